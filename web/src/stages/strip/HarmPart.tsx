import { useState } from "react";
import { type Schemas, told } from "../../api/client";
import type { Point } from "../../drawing/frame";
import { readPlumb } from "../../drawing/readPlumb";
import { PhotoButton } from "../../job/PhotoButton";
import { usePhoto } from "../../job/usePhoto";
import { Button, Choice } from "../../ui/parts";

/** What came to light, or was done: paint that lifted, gelcoat that crazed. Into the record with its place and photo. */
export function HarmPart({
	job,
	side,
	view,
	place,
	onPlaced,
	record,
	onWrong,
}: {
	job: string;
	side: Schemas["SideView"];
	view: Schemas["OldFilmView"];
	place: Point | null;
	onPlaced: () => void;
	record: (entry: Schemas["StripEntry"]) => Promise<boolean>;
	onWrong: (sentence: string | null) => void;
}) {
	const keepPhoto = usePhoto(job);
	const [harm, setHarm] = useState<Schemas["Harm"]>("paint_lifted");
	const [typed, setTyped] = useState({ back: "", drop: "" });
	const [note, setNote] = useState("");
	const [photo, setPhoto] = useState<File | null>(null);
	const touched = place ? readPlumb(side.drawing, place) : { back: "", drop: "" };
	const at = { back: typed.back || touched.back, drop: typed.drop || touched.drop };
	const keep = async () => {
		try {
			const key = photo ? await keepPhoto(photo) : null;
			const done = await record({
				what: "harm",
				side: side.id,
				harm,
				back_mm: at.back as unknown as number,
				drop_mm: at.drop as unknown as number,
				note,
				photo: key,
			});
			if (!done) return;
			setTyped({ back: "", drop: "" });
			setNote("");
			setPhoto(null);
			onPlaced();
		} catch (error) {
			onWrong(told(error));
		}
	};
	const field = (key: "back" | "drop", label: string) => (
		<label className="flex min-w-0 flex-col gap-1">
			{label}
			<input
				value={at[key]}
				placeholder="touch it"
				onChange={(e) => setTyped((t) => ({ ...t, [key]: e.target.value }))}
				className="h-14 min-w-0 rounded border border-soft bg-sheet px-3 font-bold font-reading"
			/>
		</label>
	);
	return (
		<div className="grid grid-cols-[minmax(0,1fr)] gap-3 @3xl:grid-cols-2">
			<form
				aria-label="New harm"
				className="flex flex-col gap-3 rounded bg-paper p-4"
				onSubmit={(e) => {
					e.preventDefault();
					void keep();
				}}
			>
				<Choice
					label="What came to light?"
					value={harm}
					options={view.harms.map((h) => ({ value: h.value, text: h.name }))}
					onChange={setHarm}
				/>
				<div className="grid grid-cols-2 gap-2">
					{field("back", "Back")}
					{field("drop", "Down")}
				</div>
				<label className="flex min-w-0 flex-col gap-1">
					A word about it
					<input
						value={note}
						maxLength={300}
						onChange={(e) => setNote(e.target.value)}
						className="h-14 rounded border border-soft bg-sheet px-3"
					/>
				</label>
				<div className="flex flex-wrap gap-2">
					<PhotoButton label={photo ? `Photo: ${photo.name}` : "Photo of it"} onPhoto={setPhoto} />
					<Button type="submit" look="trouble" className="min-h-16 grow">
						Keep it in the record
					</Button>
				</div>
			</form>
			<section aria-label="Came to light" className="rounded bg-paper p-4">
				<h3 className="font-bold text-xl">Came to light</h3>
				{view.harm.length === 0 && <p>Nothing. Stop at the first flake, photograph it, and ask the owner.</p>}
				<ol className="flex flex-col divide-y divide-line">
					{view.harm
						.filter((h) => h.side === side.id)
						.map((h, n) => (
							<li key={h.id} className="flex gap-3 py-2">
								<b className="text-trouble">{n + 1}</b>
								{h.photo && (
									<a href={`/api/photos/${h.photo}`} target="_blank" rel="noreferrer">
										<img
											src={`/api/photos/${h.photo}?small=true`}
											alt={`Harm ${n + 1}`}
											className="h-14 w-20 rounded object-cover"
										/>
									</a>
								)}
								<span className="min-w-0">
									{h.says}
									{h.known && <span className="block font-bold">{h.known}</span>}
								</span>
							</li>
						))}
				</ol>
			</section>
		</div>
	);
}
