import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client, type Schemas, told } from "../../api/client";
import { once } from "../../api/once";
import { PhotoButton } from "../../job/PhotoButton";
import { usePhoto } from "../../job/usePhoto";
import { Button, TroubleNote } from "../../ui/parts";

/** What came back later, tied to what is known of that spot; and how often that happens in this shop. */
export function CallBackPart({ job, side }: { job: string; side: Schemas["SideView"] }) {
	const { pieces } = side;
	const cache = useQueryClient();
	const key = ["call-backs", job];
	const found = useQuery({
		queryKey: key,
		queryFn: () => ask(client.GET("/api/jobs/{id}/call-backs", { params: { path: { id: job } } })),
	});
	const [piece, setPiece] = useState("");
	const [seen, setSeen] = useState<Schemas["CameBack"]>("lifted_edge");
	const [cause, setCause] = useState<Schemas["Cause"]>("not_known");
	const [place, setPlace] = useState("");
	const [photo, setPhoto] = useState<{ name: string; file: File; kept?: string } | null>(null);
	const keepPhoto = usePhoto(job);
	const [sending, setSending] = useState(false);
	const [wrong, setWrong] = useState<string | null>(null);
	// What was heated there: what came back at one of its runs is tied to how that run was closed.
	const heat = useQuery({
		queryKey: ["heat", side.id],
		queryFn: () => ask(client.GET("/api/sides/{id}/heat", { params: { path: { id: side.id } } })),
	});
	const [run, setRun] = useState("");
	const view = found.data;
	if (!view) return null;
	const which = pieces.find((p) => p.id === piece)?.id ?? pieces[0]?.id;
	const runs = heat.data?.pieces.find((p) => p.piece === which)?.runs.map((r) => r.name) ?? [];
	const record = async () => {
		// A photo is kept first, under a key of its own: a second press meanwhile would make two.
		if (!which || sending) return;
		setSending(true);
		try {
			// Pressed again after something went wrong, the photo is the one that was kept.
			const kept = photo && (photo.kept ?? (await keepPhoto(photo.file)));
			if (photo && kept) setPhoto({ ...photo, kept });
			const call_back = { seen, cause, place, photo: kept, run: runs.includes(run) ? run : null };
			const answer = await once(JSON.stringify(["call-back", which, call_back]), ({ id }) =>
				ask(
					client.POST("/api/pieces/{id}/call-backs", {
						params: { path: { id: which } },
						body: { id, call_back },
					}),
				),
			);
			cache.setQueryData(key, answer);
			setPlace("");
			setPhoto(null);
			setWrong(null);
			await cache.invalidateQueries({ queryKey: ["record", job] });
			await cache.invalidateQueries({ queryKey: ["heat"] });
		} catch (error) {
			setWrong(told(error));
		} finally {
			setSending(false);
		}
	};
	const field = "h-12 min-w-0 max-w-full rounded border border-soft bg-paper px-2";
	return (
		<section aria-label="Came back later" className="flex min-w-0 flex-col gap-2">
			{view.of_job.length > 0 && (
				<ul className="flex flex-col gap-1">
					{view.of_job.map((c) => (
						<li key={c.id} className="rounded border-trouble border-l-4 bg-paper px-3 py-2">
							{c.says}
							{c.photo && (
								<a href={`/api/photos/${c.photo}`} target="_blank" rel="noreferrer" className="mt-1 block">
									<img
										src={`/api/photos/${c.photo}?small=true`}
										alt="What came back"
										loading="lazy"
										className="max-h-40 max-w-full rounded"
									/>
								</a>
							)}
						</li>
					))}
				</ul>
			)}
			<details>
				<summary className="min-h-11 cursor-pointer py-2 font-bold text-xl">Something came back?</summary>
				<div className="flex flex-col gap-3 rounded bg-paper p-3">
					{which && (
						<form
							aria-label="Something came back"
							className="flex flex-col gap-2"
							onSubmit={(e) => {
								e.preventDefault();
								void record();
							}}
						>
							<label className="flex flex-col gap-1">
								Which piece
								<select value={which} onChange={(e) => setPiece(e.target.value)} className={field}>
									{pieces.map((p) => (
										<option key={p.id} value={p.id}>
											{p.called}
										</option>
									))}
								</select>
							</label>
							<label className="flex flex-col gap-1">
								What is seen
								<select
									value={seen}
									onChange={(e) => setSeen(e.target.value as Schemas["CameBack"])}
									className={field}
								>
									{view.seen.map((s) => (
										<option key={s.value} value={s.value}>
											{s.name}
										</option>
									))}
								</select>
							</label>
							<label className="flex flex-col gap-1">
								Why, as it was found
								<select
									value={cause}
									onChange={(e) => setCause(e.target.value as Schemas["Cause"])}
									className={field}
								>
									{view.causes.map((c) => (
										<option key={c.value} value={c.value}>
											{c.name}
										</option>
									))}
								</select>
							</label>
							{runs.length > 0 && (
								<label className="flex flex-col gap-1">
									At which run of heat
									<select
										value={runs.includes(run) ? run : ""}
										onChange={(e) => setRun(e.target.value)}
										className={field}
									>
										<option value="">at none, or nobody knows</option>
										{runs.map((r) => (
											<option key={r} value={r}>
												{r}
											</option>
										))}
									</select>
								</label>
							)}
							<label className="flex flex-col gap-1">
								Where on it
								<input
									value={place}
									maxLength={300}
									onChange={(e) => setPlace(e.target.value)}
									className={field}
								/>
							</label>
							<PhotoButton
								label={photo ? `Photo: ${photo.name}` : "Photo of it"}
								onPhoto={(file) => setPhoto({ name: file.name, file })}
							/>
							<Button type="submit" disabled={sending} className="min-h-12">
								Into the record
							</Button>
							{wrong && <TroubleNote>{wrong}</TroubleNote>}
						</form>
					)}
					<div>
						<h3 className="font-bold">In this shop, of the pieces laid in five years</h3>
						<ul>
							{view.rates.map((r) => (
								<li key={r.of}>{r.says}</li>
							))}
						</ul>
					</div>
				</div>
			</details>
		</section>
	);
}
