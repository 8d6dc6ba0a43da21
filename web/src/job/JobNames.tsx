import { useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import { ask, client, type Schemas, Trouble, told } from "../api/client";
import { Button, Sheet, TroubleNote } from "../ui/parts";

/** What a job is found by. */
export interface Names {
	customer: string;
	title: string;
	plate: string;
}

export const NO_NAMES: Names = { customer: "", title: "", plate: "" };

/** Whom it is for, what it is called, which vehicle it is. */
export function NameFields({
	names,
	onChange,
	titleHint,
}: {
	names: Names;
	onChange: (names: Names) => void;
	titleHint?: string;
}) {
	const ids = useId();
	const field = (of: keyof Names, label: string, most: number, hint?: string) => (
		<div className="flex min-w-0 flex-col gap-1">
			<label htmlFor={ids + of} className="text-soft">
				{label}
			</label>
			<input
				id={ids + of}
				value={names[of]}
				maxLength={most}
				onChange={(e) => onChange({ ...names, [of]: e.target.value })}
				className="h-11 min-w-0 rounded border border-soft bg-paper px-3 text-lg"
			/>
			{hint && <span className="text-soft">{hint}</span>}
		</div>
	);
	return (
		<>
			{field("customer", "Whom is it for?", 80)}
			{field("title", "What is the job called?", 80, titleHint)}
			{field("plate", "Plate or fleet number", 40, "May stay empty. The vehicle is found by it later.")}
		</>
	);
}

/** The job's name above its stages: a press names it anew. */
export function JobTitle({ job }: { job: Schemas["JobView"] }) {
	const [open, setOpen] = useState(false);
	return (
		<>
			<h1 className="min-w-0 font-bold text-lg">
				<button
					type="button"
					onClick={() => setOpen(true)}
					title={`${job.title}: name it anew`}
					className="flex min-h-9 max-w-full items-center rounded px-1 underline decoration-line decoration-2 underline-offset-4 hover:bg-part"
				>
					<span className="truncate">{job.title}</span>
				</button>
			</h1>
			{open && <NamedAnew job={job} onDone={() => setOpen(false)} />}
		</>
	);
}

function NamedAnew({ job, onDone }: { job: Schemas["JobView"]; onDone: () => void }) {
	const cache = useQueryClient();
	const [names, setNames] = useState<Names>({
		customer: job.customer,
		title: job.title,
		plate: job.plate ?? "",
	});
	const [seen, setSeen] = useState(job.revision);
	const [wrong, setWrong] = useState<string | null>(null);
	const save = async () => {
		try {
			const headers = { "If-Match": `"${seen}"` };
			const params = { path: { id: job.id } };
			await ask(client.PUT("/api/jobs/{id}", { params, headers, body: names }));
			await Promise.all([
				cache.invalidateQueries({ queryKey: ["job", job.id] }),
				cache.invalidateQueries({ queryKey: ["jobs"] }),
			]);
			onDone();
		} catch (error) {
			if (error instanceof Trouble && error.problem.code === "stale" && error.problem.revision) {
				const now = error.problem.current as
					| { title?: string; customer?: string; plate?: string }
					| undefined;
				setSeen(error.problem.revision);
				setWrong(
					`Somebody else named it meanwhile: ${[now?.title, now?.customer, now?.plate].filter(Boolean).join(", ")}. Save once more to keep yours, or close this to keep theirs.`,
				);
			} else setWrong(told(error));
		}
	};
	return (
		<Sheet open onOpenChange={onDone} title="The job">
			<form
				className="flex flex-col gap-4"
				onSubmit={(e) => {
					e.preventDefault();
					void save();
				}}
			>
				<NameFields names={names} onChange={setNames} />
				<p className="text-soft">A plan that was issued keeps the names of its day.</p>
				{wrong && <TroubleNote>{wrong}</TroubleNote>}
				<Button look="next" type="submit" className="self-end text-lg">
					Save
				</Button>
			</form>
		</Sheet>
	);
}
