import { useState } from "react";
import { type Schemas, told } from "../../api/client";
import { KEPT_HERE } from "../../api/outbox";
import { useShop } from "../../api/queries";
import type { Point } from "../../drawing/frame";
import { readPlumb } from "../../drawing/readPlumb";
import { PhotoButton } from "../../job/PhotoButton";
import { useOnePress } from "../../job/useOnePress";
import { usePhoto } from "../../job/usePhoto";
import { useWalkRecord } from "../../job/useWalkRecord";
import { Button, Choice, Sheet, TroubleNote } from "../../ui/parts";
import { SignaturePad } from "./SignaturePad";

type Walk = Schemas["WalkRoundView"];

/** What was there before: damage by place, doubts about paint, photos, and the customer's word. */
export function WalkRound({
	job,
	side,
	walk,
	place,
	onPlaced,
}: {
	job: string;
	side: Schemas["SideView"];
	walk: Walk | undefined;
	place: Point | null;
	onPlaced: () => void;
}) {
	const { record, wrong, setWrong, kept } = useWalkRecord(job);
	const keepPhoto = usePhoto(job);
	const [striking, setStriking] = useState<{ entry: string; what: string } | null>(null);
	const [signing, setSigning] = useState(false);
	const here = walk?.sides.find((s) => s.side === side.id);
	const [doubt, setDoubt] = useState("");
	const pressed = useOnePress();
	const findings = walk?.sides.reduce((n, s) => n + s.damage.length + s.doubts.length, 0) ?? 0;
	return (
		<div className="grid items-start gap-4 @4xl:grid-cols-[22rem_1fr]">
			<NewDamage job={job} side={side} place={place} onPlaced={onPlaced} record={record} onWrong={setWrong} />
			<div className="flex flex-col gap-3">
				{kept && <p role="status">{KEPT_HERE}</p>}
				{wrong && <TroubleNote>{wrong}</TroubleNote>}
				<section aria-label="Found on this side" className="rounded bg-paper p-4">
					<h2 className="font-bold text-xl">Found on this side</h2>
					{here?.damage.length === 0 && here.doubts.length === 0 && (
						<p>Nothing yet. Tap the picture where something is.</p>
					)}
					<ul className="mt-1 flex flex-col divide-y divide-line">
						{here?.damage.map((d) => (
							<li key={d.entry} className="flex items-center gap-4 py-1.5">
								<strong className="w-6 shrink-0 text-center text-trouble text-xl">{d.number}</strong>
								{d.damage.photo && (
									<a
										href={`/api/photos/${d.damage.photo}`}
										target="_blank"
										rel="noreferrer"
										className="shrink-0"
									>
										<img
											src={`/api/photos/${d.damage.photo}?small=true`}
											alt={`${d.name}, number ${d.number}`}
											className="h-14 w-20 rounded object-cover"
										/>
									</a>
								)}
								<div className="min-w-0 grow">
									<p>
										<strong className="inline-block first-letter:uppercase">{d.name}</strong>,{" "}
										<span className="font-reading">{d.size}</span> large,{" "}
										<span className="font-reading">{d.back}</span> back,{" "}
										<span className="font-reading">{d.drop}</span> down
									</p>
									<p className="text-soft">
										{d.damage.note && <span className="text-ink">{d.damage.note} </span>}
										{d.who}, {d.when}
									</p>
								</div>
								<Button
									className="shrink-0 px-3"
									onClick={() => setStriking({ entry: d.entry, what: `${d.name}, number ${d.number}` })}
								>
									Strike
								</Button>
							</li>
						))}
						{here?.struck.map((d) => (
							<li key={d.entry} className="flex items-center gap-4 py-1.5 text-soft">
								<strong className="w-6 shrink-0 text-center text-xl">{d.number}</strong>
								<p className="min-w-0 grow">
									<s>
										{d.name}, <span className="font-reading">{d.size}</span> large,{" "}
										<span className="font-reading">{d.back}</span> back,{" "}
										<span className="font-reading">{d.drop}</span> down
									</s>
									. Struck: {d.struck}
								</p>
							</li>
						))}
						{here?.doubts.map((d) => (
							<li key={d.entry} className="flex items-center gap-4 py-1.5">
								<strong>Paint</strong> <span>{d.note}</span> <span className="text-soft">{d.who}</span>
								<Button
									className="ml-auto px-3"
									onClick={() => setStriking({ entry: d.entry, what: "the doubt about paint" })}
								>
									Strike
								</Button>
							</li>
						))}
					</ul>
					{here && here.photos.length > 0 && (
						<ul className="mt-2 flex flex-wrap gap-2">
							{here.photos.map((p) => (
								<li key={p.entry}>
									<a href={`/api/photos/${p.photo}`} target="_blank" rel="noreferrer">
										<img
											src={`/api/photos/${p.photo}?small=true`}
											alt={p.note || `${side.name} before work`}
											className="h-20 rounded"
										/>
									</a>
								</li>
							))}
						</ul>
					)}
					<form
						className="mt-3 flex flex-wrap items-end gap-2"
						onSubmit={async (e) => {
							e.preventDefault();
							const steady = pressed();
							// Without a signal nobody else says so: an empty one would wait, and be refused in the evening. After a note it is a hand that trembled.
							if (doubt.trim() === "") {
								if (steady) setWrong("Write what the doubt is, then note it.");
								return;
							}
							if (await record({ what: "paint_doubt", side: side.id, note: doubt })) setDoubt("");
						}}
					>
						<div className="flex grow flex-col gap-1">
							<label htmlFor="doubt" className="text-soft">
								A doubt about the paint
							</label>
							<input
								id="doubt"
								value={doubt}
								onChange={(e) => setDoubt(e.target.value)}
								className="h-11 rounded border border-soft bg-paper px-3 text-lg"
							/>
						</div>
						<Button type="submit">Note it</Button>
						<PhotoButton
							label="Photo of this side"
							onPhoto={async (file) => {
								try {
									const photo = await keepPhoto(file);
									await record({ what: "photo", side: side.id, photo });
								} catch (error) {
									setWrong(told(error));
								}
							}}
						/>
					</form>
				</section>
				<section
					aria-label="The customer's word"
					className="flex flex-wrap items-center gap-4 rounded bg-paper p-4"
				>
					<p className="grow text-lg">
						{walk?.signed
							? `${walk.signed.name} signed for ${walk.signed.findings} ${walk.signed.findings === 1 ? "finding" : "findings"} on ${walk.signed_at}.`
							: `${findings} ${findings === 1 ? "finding" : "findings"} on the whole vehicle, not signed yet.`}
						{walk?.signed && walk.signed.changed_since > 0 && (
							<strong className="text-trouble">
								{" "}
								{walk.signed.changed_since} changed since: sign again.
							</strong>
						)}
					</p>
					<a
						href={`/api/jobs/${job}/walk-round.pdf`}
						target="_blank"
						rel="noreferrer"
						className="flex min-h-11 items-center rounded border border-soft bg-paper px-4"
					>
						Print
					</a>
					<Button onClick={() => setSigning(true)}>{walk?.signed ? "Sign again" : "Sign"}</Button>
				</section>
			</div>
			{striking && (
				<Strike
					what={striking.what}
					onClose={() => setStriking(null)}
					onStrike={async (note) => {
						if (await record({ what: "struck", entry: striking.entry, note })) setStriking(null);
					}}
				/>
			)}
			<Sheet open={signing} onOpenChange={setSigning} title="The customer's word" wide>
				<p className="mb-3 text-lg">
					{findings === 0
						? "Nothing was found that was damaged before work."
						: `${findings} ${findings === 1 ? "finding was" : "findings were"} there before work.`}
				</p>
				<SignaturePad
					onSign={async (name, strokes, typed) => {
						if (await record({ what: "sign_off", name, strokes, typed })) setSigning(false);
					}}
				/>
				{wrong && <TroubleNote>{wrong}</TroubleNote>}
			</Sheet>
		</div>
	);
}

function NewDamage({
	job,
	side,
	place,
	onPlaced,
	record,
	onWrong,
}: {
	job: string;
	side: Schemas["SideView"];
	place: Point | null;
	onPlaced: () => void;
	record: (entry: unknown) => Promise<boolean>;
	onWrong: (sentence: string) => void;
}) {
	const shop = useShop();
	const keepPhoto = usePhoto(job);
	const [kind, setKind] = useState("dent");
	const [text, setText] = useState({ back: "", drop: "", size: "", note: "" });
	const [photo, setPhoto] = useState<File | null>(null);
	const set = (part: Partial<typeof text>) => setText((t) => ({ ...t, ...part }));
	// A tap in the picture stands until a place is typed: in mm, which the server prints in the job's unit.
	const tapped = place && readPlumb(side.drawing, place);
	const field = (key: "back" | "drop" | "size", label: string, hint?: string) => (
		<div className="flex min-w-0 flex-col gap-1">
			<label htmlFor={`damage-${key}`} className="text-soft">
				{label}
			</label>
			<input
				id={`damage-${key}`}
				value={text[key] || (key !== "size" && tapped ? tapped[key] : "")}
				onChange={(e) => set({ [key]: e.target.value })}
				placeholder={hint}
				className="h-11 min-w-0 rounded border border-soft bg-paper px-3 font-bold font-reading text-lg"
			/>
		</div>
	);
	const add = async () => {
		try {
			const key = photo ? await keepPhoto(photo) : null;
			const done = await record({
				what: "damage",
				side: side.id,
				damage: kind,
				back_mm: text.back || tapped?.back || "",
				drop_mm: text.drop || tapped?.drop || "",
				size_mm: text.size,
				note: text.note,
				photo: key,
			});
			if (done) {
				setText({ back: "", drop: "", size: "", note: "" });
				setPhoto(null);
				onPlaced();
			}
		} catch (error) {
			onWrong(told(error));
		}
	};
	return (
		<form
			aria-label="New finding"
			className="flex flex-col gap-3 rounded bg-paper p-4"
			onSubmit={(e) => {
				e.preventDefault();
				add();
			}}
		>
			<Choice
				label="What is it?"
				value={kind}
				options={(shop.data?.damage_kinds ?? []).map((d) => ({ value: d.value, text: d.name }))}
				onChange={setKind}
			/>
			<div className="grid grid-cols-3 gap-2">
				{field("back", "Back", "tap it")}
				{field("drop", "Down", "tap it")}
				{field("size", "How large")}
			</div>
			<div className="flex min-w-0 flex-col gap-1">
				<label htmlFor="damage-note" className="text-soft">
					A word about it
				</label>
				<input
					id="damage-note"
					value={text.note}
					onChange={(e) => set({ note: e.target.value })}
					className="h-11 rounded border border-soft bg-paper px-3 text-lg"
				/>
			</div>
			<div className="flex flex-wrap items-center gap-2">
				<PhotoButton label={photo ? `Photo: ${photo.name}` : "Photo of it"} onPhoto={setPhoto} />
				<Button look="next" type="submit">
					Found it
				</Button>
			</div>
		</form>
	);
}

function Strike({
	what,
	onClose,
	onStrike,
}: {
	what: string;
	onClose: () => void;
	onStrike: (note: string) => void;
}) {
	const [note, setNote] = useState("");
	return (
		<Sheet open onOpenChange={(open) => !open && onClose()} title={`Strike ${what}`}>
			<div className="flex flex-col gap-3">
				<label htmlFor="strike-note" className="text-lg">
					Why was it wrong? Both stay in the record.
				</label>
				<input
					id="strike-note"
					value={note}
					onChange={(e) => setNote(e.target.value)}
					className="h-11 rounded border border-soft bg-paper px-3 text-lg"
				/>
				<div className="flex justify-end gap-3">
					<Button onClick={onClose}>Keep it</Button>
					<Button look="trouble" disabled={note.trim() === ""} onClick={() => onStrike(note)}>
						Strike it
					</Button>
				</div>
			</div>
		</Sheet>
	);
}
