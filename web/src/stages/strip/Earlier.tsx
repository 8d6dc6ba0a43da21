import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client, type Schemas } from "../../api/client";
import { Button, Sheet, TroubleNote, Waiting } from "../../ui/parts";

interface Looking {
	job: string;
	side: string;
	record: (entry: Schemas["StripEntry"]) => Promise<boolean>;
	onDone: () => void;
}

/** Old film that an earlier job put on: looked up there instead of being measured again. */
export function Earlier(at: Looking) {
	const [open, setOpen] = useState(false);
	return (
		<>
			<Button className="min-h-14" onClick={() => setOpen(true)}>
				From an earlier job
			</Button>
			<Sheet open={open} onOpenChange={setOpen} title="From an earlier job">
				{open && <Found {...at} onRefused={() => setOpen(false)} />}
			</Sheet>
		</>
	);
}

function Found({ job, side, record, onDone, onRefused }: Looking & { onRefused: () => void }) {
	const [typed, setTyped] = useState("");
	const [find, setFind] = useState("");
	/** What was ticked off: everything that is there is taken otherwise. */
	const [without, setWithout] = useState<ReadonlySet<string>>(new Set());
	const [sending, setSending] = useState(false);
	const found = useQuery({
		queryKey: ["strip", job, "earlier", find],
		// Looked up anew each time: what was taken a moment ago is on the list by then.
		gcTime: 0,
		staleTime: 0,
		queryFn: () =>
			ask(
				client.GET("/api/jobs/{id}/strip/earlier", {
					params: { path: { id: job }, query: find ? { find } : {} },
				}),
			),
	});
	const view = found.data;
	const take = async (pieces: Schemas["EarlierPiece"][]) => {
		if (sending) return;
		setSending(true);
		for (const p of pieces) {
			if (!(await record({ what: "found", ...p.graphic }))) {
				// Why is told on the page below.
				onRefused();
				return;
			}
		}
		onDone();
	};
	return (
		<div className="flex flex-col gap-3">
			<form
				className="flex flex-wrap items-end gap-2"
				onSubmit={(e) => {
					e.preventDefault();
					// It stands in the page's own form, which is not sent by it.
					e.stopPropagation();
					setFind(typed);
				}}
			>
				<label className="flex min-w-0 grow flex-col gap-1 text-soft">
					Customer, vehicle, year or lettering
					<input
						value={typed}
						maxLength={80}
						onChange={(e) => setTyped(e.target.value)}
						placeholder={view?.find}
						className="h-14 min-w-0 rounded border border-soft bg-paper px-3 text-ink"
					/>
				</label>
				<Button type="submit" className="min-h-14">
					Look for it
				</Button>
			</form>
			{!view ? (
				<Waiting what="earlier jobs" error={found.error} />
			) : view.jobs.length === 0 ? (
				<p>
					No earlier job with “{view.find}” that laid anything on such sides. Type other words, or measure
					what is on it.
				</p>
			) : (
				view.jobs.map((j) => {
					const here = j.pieces.filter((p) => p.graphic.side === side);
					const elsewhere = j.pieces.length - here.length;
					const chosen = here.filter((p) => !p.taken && !without.has(p.graphic.piece ?? ""));
					return (
						<section key={j.id} aria-label={j.title} className="border-line border-t pt-2">
							<h3 className="font-bold text-xl">{j.title}</h3>
							<p className="text-soft">
								{j.since}
								{elsewhere > 0 ? `; ${elsewhere} more on its other sides` : ""}
							</p>
							{here.map((p) => (
								<label key={p.graphic.piece} className="flex min-h-14 items-center gap-3">
									<input
										type="checkbox"
										className="size-7 shrink-0 accent-spruce"
										disabled={p.taken}
										checked={p.taken || !without.has(p.graphic.piece ?? "")}
										onChange={(e) => {
											const next = new Set(without);
											if (e.target.checked) next.delete(p.graphic.piece ?? "");
											else next.add(p.graphic.piece ?? "");
											setWithout(next);
										}}
									/>
									<span>
										<b>{p.graphic.name}</b>, {p.says}
										{p.taken ? ": on the list already" : ""}
									</span>
								</label>
							))}
							{j.left_out.length > 0 && <TroubleNote>{j.left_out.join(" ")}</TroubleNote>}
							{here.length === 0 ? (
								<p>Nothing of it is on this side. Choose another side above.</p>
							) : (
								<Button
									look="next"
									className="min-h-16"
									disabled={chosen.length === 0 || sending}
									onClick={() => void take(chosen)}
								>
									{chosen.length === 0
										? "None of it"
										: chosen.length === 1
											? "It is still on it"
											: `These ${chosen.length} are still on it`}
								</Button>
							)}
						</section>
					);
				})
			)}
		</div>
	);
}
