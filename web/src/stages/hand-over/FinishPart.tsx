import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { ask, client, freshKey } from "../../api/client";
import { useJob } from "../../api/queries";
import { NameFields, NO_NAMES } from "../../job/JobNames";
import { stagePath } from "../../job/stages";
import { useTelling } from "../../job/useTelling";
import { Button, TroubleNote } from "../../ui/parts";

/** The job leaves the yard when it is done; and it is the start of another one like it. */
export function FinishPart({ job }: { job: string }) {
	const cache = useQueryClient();
	const navigate = useNavigate();
	const view = useJob(job).data;
	const { wrong, tell } = useTelling();
	const [copying, setCopying] = useState(false);
	const [names, setNames] = useState(NO_NAMES);
	const [another, setAnother] = useState(true);
	const [id, setId] = useState(freshKey);
	const params = { path: { id: job } };
	const leave = async () => {
		await ask(
			view?.finished
				? client.POST("/api/jobs/{id}/reopen", { params })
				: client.POST("/api/jobs/{id}/finish", { params }),
		);
		await Promise.all([
			cache.invalidateQueries({ queryKey: ["job", job] }),
			cache.invalidateQueries({ queryKey: ["jobs"] }),
		]);
	};
	const copy = async () => {
		const body = { id, ...names, another_vehicle: another };
		const made = await ask(client.POST("/api/jobs/{id}/copy", { params, body }));
		setId(freshKey());
		await cache.invalidateQueries({ queryKey: ["jobs"] });
		navigate(stagePath(made.id, "look_over"));
	};
	return (
		<section aria-label="When it is done" className="flex min-w-0 flex-col gap-2">
			<h2 className="font-bold text-xl">When it is done</h2>
			<p>
				{view?.finished
					? `Finished ${view.finished}. It is out of the yard and whole; the yard finds it by its words.`
					: "A finished job leaves the yard. It stays whole, and is found by customer, plate, words or year."}
			</p>
			<div className="flex flex-wrap gap-2">
				<Button onClick={() => void tell(leave())}>
					{view?.finished ? "Bring it back into the yard" : "Finished: out of the yard"}
				</Button>
				<Button aria-expanded={copying} onClick={() => setCopying(!copying)}>
					Start another one like it
				</Button>
			</div>
			{copying && (
				<form
					aria-label="Start another one like it"
					className="grid gap-3 rounded bg-part p-3"
					onSubmit={(e) => {
						e.preventDefault();
						void tell(copy());
					}}
				>
					<NameFields names={names} onChange={setNames} titleHint="May stay empty." />
					<label className="flex min-h-11 items-center gap-3">
						<input
							type="checkbox"
							checked={another}
							onChange={(e) => setAnother(e.target.checked)}
							className="size-6 shrink-0 accent-spruce"
						/>
						<span>Another vehicle of this kind: its body is to be measured anew</span>
					</label>
					<Button type="submit">Start it with this layout</Button>
				</form>
			)}
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
		</section>
	);
}
