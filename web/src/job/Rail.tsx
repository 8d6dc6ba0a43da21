import { DropdownMenu } from "radix-ui";
import { useEffect, useRef } from "react";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { STAGES, type Stage, stagePath } from "./stages";

type Progress = Schemas["StageProgress"];

/** How a stage stands, told by a sign and a word as well as by colour. */
const SIGNS: Record<Progress["state"], [sign: string, word: string]> = {
	done: ["✓", "done"],
	now: ["▸", "next"],
	later: ["", ""],
};

/** The nine stages in the order of the work, as marks on one line of tape. */
export function Rail({
	job,
	stages,
	here,
	side,
}: {
	job: string;
	stages: Progress[];
	here: string;
	side: string | undefined;
}) {
	const row = useRef<HTMLOListElement>(null);
	// The stage at hand is in view at every width.
	// biome-ignore lint/correctness/useExhaustiveDependencies: another stage is scrolled to
	useEffect(() => {
		const mark = row.current?.querySelector<HTMLElement>("[aria-current=step]");
		if (mark && row.current) row.current.scrollLeft = mark.offsetLeft - row.current.clientWidth / 3;
	}, [here]);
	return (
		<nav aria-label="Stages of the job" className="shrink-0 px-4 sm:px-6">
			<ol
				ref={row}
				className="no-scrollbar relative grid auto-cols-[minmax(6.6rem,1fr)] grid-flow-col overflow-x-auto border-ink border-t-2"
			>
				{stages.map(({ stage, state }) => (
					<li key={stage} className="rail-mark relative">
						<Mark stage={stage} state={state} here={here} to={href(job, stage, side)} />
					</li>
				))}
			</ol>
		</nav>
	);
}

const href = (job: string, stage: Stage, side: string | undefined) =>
	`${stagePath(job, stage)}${side ? `?side=${side}` : ""}`;

function Mark({
	stage,
	state,
	here,
	to,
}: {
	stage: Stage;
	state: Progress["state"];
	here: string;
	to: string;
}) {
	const { name, path, question } = STAGES[stage];
	const [sign, word] = SIGNS[state];
	const shape = "flex h-9 items-center justify-center gap-1 whitespace-nowrap px-1.5";
	const current = path === here;
	return (
		<Link
			to={to}
			aria-current={current ? "step" : undefined}
			title={question}
			className={`${shape} ${
				current
					? "bg-spruce font-bold text-white"
					: state === "done"
						? "text-spruce hover:bg-paper"
						: state === "now"
							? "font-bold text-ink hover:bg-paper"
							: "text-ink hover:bg-paper"
			}`}
		>
			{sign && state === "now" && !current && <span aria-hidden>{sign}</span>}
			{name}
			{state === "done" && <span aria-hidden>{sign}</span>}
			{word && <span className="sr-only">, {word}</span>}
		</Link>
	);
}

/** The same on a phone: the stage at hand, and the others in a list under it. */
export function StageMenu({
	job,
	stages,
	here,
	side,
}: {
	job: string;
	stages: Progress[];
	here: string;
	side: string | undefined;
}) {
	const now = stages.find((s) => STAGES[s.stage].path === here);
	return (
		<nav aria-label="Stages of the job">
			<DropdownMenu.Root>
				<DropdownMenu.Trigger
					aria-label={`Stage: ${now ? STAGES[now.stage].name : ""}`}
					className="flex h-11 items-center gap-2 whitespace-nowrap border-spruce border-b-4 px-1 font-bold text-lg"
				>
					{now && STAGES[now.stage].name} <span aria-hidden>▾</span>
				</DropdownMenu.Trigger>
				<DropdownMenu.Portal>
					<DropdownMenu.Content
						align="end"
						className="z-50 grid max-h-[80vh] min-w-64 overflow-auto rounded border border-soft bg-paper p-1 text-lg shadow-lg"
					>
						{stages.map(({ stage, state }) => {
							const { name, path } = STAGES[stage];
							const [sign, word] = SIGNS[state];
							const row =
								"flex min-h-14 items-center justify-between gap-6 rounded px-4 outline-none data-highlighted:bg-tape";
							return (
								<DropdownMenu.Item key={stage} asChild className={row}>
									<Link to={href(job, stage, side)} aria-current={path === here ? "step" : undefined}>
										<span className={path === here ? "font-bold" : ""}>{name}</span>
										<span>
											{path === here ? "here" : word} <span aria-hidden>{sign}</span>
										</span>
									</Link>
								</DropdownMenu.Item>
							);
						})}
					</DropdownMenu.Content>
				</DropdownMenu.Portal>
			</DropdownMenu.Root>
		</nav>
	);
}
