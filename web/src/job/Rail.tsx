import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { STAGES, stagePath } from "./stages";

/** The nine stages in the order of the work. Those that Windrift does not do yet stand there as what they will be. */
export function Rail({
	job,
	stages,
	here,
	side,
}: {
	job: string;
	stages: Schemas["StageProgress"][];
	here: string;
	side: string | undefined;
}) {
	return (
		<nav aria-label="Stages of the job" className="px-6">
			<ol className="grid auto-cols-[minmax(104px,1fr)] grid-flow-col gap-1 overflow-x-auto">
				{stages.map(({ stage, state }) => {
					const { name, path, question } = STAGES[stage];
					if (!path || state === "not_yet") {
						return (
							<li
								key={stage}
								title={question}
								className="flex h-12 flex-col items-center justify-center rounded-sm border border-line border-dashed text-soft leading-5"
							>
								<span>{name}</span>
								<span className="italic">not yet</span>
							</li>
						);
					}
					const current = path === here;
					return (
						<li key={stage}>
							<Link
								to={`${stagePath(job, stage)}${side ? `?side=${side}` : ""}`}
								aria-current={current ? "step" : undefined}
								className={`flex h-12 flex-col items-center justify-center rounded-sm font-semibold leading-5 ${
									current
										? "bg-spruce text-white"
										: state === "done"
											? "bg-tape text-ink"
											: "border border-soft bg-paper text-ink"
								}`}
							>
								{name}
								{state === "done" && <span className="font-normal">done</span>}
								{state === "now" && <span className="font-normal">next</span>}
							</Link>
						</li>
					);
				})}
			</ol>
		</nav>
	);
}
