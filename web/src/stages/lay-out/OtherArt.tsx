import { useState } from "react";
import { useParams } from "react-router";
import { usePrintArt } from "../../job/usePhoto";
import { useTelling } from "../../job/useTelling";
import { bind, put } from "../../readings/bound";
import { Sentence, type Slot } from "../../readings/Sentence";
import { FilmColour } from "../../ui/FilmColour";
import { Button, TroubleNote } from "../../ui/parts";
import type { Drawing, Editable, OnSave, Panel, Spec, Stripe } from "./pieces";

/** A stripe: its bands, what it keeps off, and what goes round its ends. */
export function StripeForm({ piece, art, onSave }: { piece: Editable; art: Stripe; onSave: OnSave }) {
	const { wrong, tell } = useTelling();
	const spec = piece.spec as Spec;
	const fields = bind<Spec>(spec, piece.printed, (next) => onSave(piece, next), tell);
	const change = (part: Partial<Stripe>) => onSave(piece, { ...spec, art: { ...art, ...part } });
	const kept = { set: (path: string, next: unknown) => onSave(piece, put(spec, path, next)), tell };
	/** A plain band stays plain: both ends change until they differ. */
	const bandSlots = (at: string): Slot | undefined => {
		const n = Number(at.match(/^\/art\/bands\/(\d+)\/front_width_mm$/)?.[1] ?? -1);
		const band = art.bands[n];
		if (!band || band.front_width_mm !== band.rear_width_mm) return undefined;
		const both = (typed: string) =>
			change({
				bands: art.bands.map((b, k) => (k === n ? { ...b, front_width_mm: typed, rear_width_mm: typed } : b)),
			});
		return { label: "Width at the front", typed: both };
	};
	const [whole = [], ...bands] = piece.art_said;
	const last = art.bands.at(-1);
	return (
		<div className="grid gap-3">
			<div className="@lg:w-1/2">{fields.words("/art/name", "Called")}</div>
			<Sentence said={whole} kept={kept} label="The stripe" />
			<ol className="grid gap-2">
				{art.bands.map((_, n) => (
					<li
						key={n}
						className="flex flex-wrap items-end justify-between gap-x-3 rounded bg-paper px-3 py-1"
						aria-label={`Band ${n + 1}`}
					>
						<Sentence said={bands[n] ?? []} slots={bandSlots} kept={kept} label={`Band ${n + 1}`} />
						{art.bands.length > 1 && (
							<Button onClick={() => tell(change({ bands: art.bands.filter((_, k) => k !== n) }))}>
								Take band {n + 1} out
							</Button>
						)}
					</li>
				))}
			</ol>
			<FilmColour
				label="Colour of the film"
				value={art.colour}
				onChange={(colour) => tell(change({ colour }))}
			/>
			<Button
				className="justify-self-start"
				onClick={() =>
					last && tell(change({ bands: [...art.bands, { ...last, gap_mm: last.front_width_mm }] }))
				}
			>
				Add a band below
			</Button>
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
		</div>
	);
}

/** A kit piece: what it is called, its colour, how it meets the piece before it and where the error runs. */
export function DrawingForm({ piece, art, onSave }: { piece: Editable; art: Drawing; onSave: OnSave }) {
	const { wrong, tell } = useTelling();
	const spec = piece.spec as Spec;
	const fields = bind<Spec>(spec, piece.printed, (next) => onSave(piece, next), tell);
	const change = (part: Partial<Drawing>) => onSave(piece, { ...spec, art: { ...art, ...part } });
	const kept = {
		set: (path: string, next: unknown) =>
			path === "/art/seam/seam"
				? change({
						seam:
							next === "overlap"
								? { seam: "overlap", overlap_mm: "1/2 in" }
								: { seam: next as "none" | "butt" },
					})
				: onSave(piece, put(spec, path, next)),
		tell,
	};
	return (
		<div className="grid gap-3">
			<div className="@lg:w-1/2">{fields.words("/art/name", "Called")}</div>
			<Sentence said={piece.art_said[0] ?? []} kept={kept} label="The piece" />
			{piece.seam?.right && <p className="text-lg">✓ {piece.seam.sentence}</p>}
			<FilmColour
				label="Colour of the film"
				value={art.colour}
				onChange={(colour) => tell(change({ colour }))}
			/>
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
			<p className="text-soft">
				Put the point down first, swing the piece to its line, look at the far end before pressing. Fit butt
				seams first and let the error run to the side that is covered or trimmed.
			</p>
		</div>
	);
}

/** How many pixels a picture has, turned as it is shown. */
async function sizeOf(file: File): Promise<{ width_px: number; height_px: number }> {
	const bitmap = await createImageBitmap(file).catch(() => {
		throw new Error(
			"This file is not a picture that can be read. Choose a JPEG or PNG; a PDF or an SVG waits for the signal.",
		);
	});
	const size = { width_px: bitmap.width, height_px: bitmap.height };
	bitmap.close();
	return size;
}

/** A printed panel: its size, bleed, and what in the picture must stay clear. */
export function PanelForm({ piece, art, onSave }: { piece: Editable; art: Panel; onSave: OnSave }) {
	const { wrong, tell } = useTelling();
	const spec = piece.spec as Spec;
	const fields = bind<Spec>(spec, piece.printed, (next) => onSave(piece, next), tell);
	const change = (part: Partial<Panel>) => onSave(piece, { ...spec, art: { ...art, ...part } });
	const keys = art.keys ?? [];
	const kept = { set: (path: string, next: unknown) => onSave(piece, put(spec, path, next)), tell };
	const bleedSlot = (at: string): Slot | undefined => {
		if (at !== "/art/bleeds") return undefined;
		const same = art.bleed_mm;
		const each = { front_mm: same, rear_mm: same, top_mm: same, foot_mm: same };
		return {
			label: "Bleed is given for",
			value: art.bleeds ? "each" : "every",
			options: [
				{ value: "every", text: "every side" },
				{ value: "each", text: "each edge by itself" },
			],
			chosen: (by) => tell(change({ bleeds: by === "each" ? each : null })),
		};
	};
	const [whole = [], ...clear] = piece.art_said;
	const { job = "" } = useParams();
	const keepArt = usePrintArt(job);
	const [busy, setBusy] = useState(false);
	const choose = async (file: File) => {
		setBusy(true);
		await tell(
			(async () => {
				const { photo, size } = await keepArt(file);
				// Without a signal the browser measures what it can show; a PDF waits.
				const own = size
					? { width_px: size.width, height_px: size.height, drawn: size.drawn }
					: await sizeOf(file);
				await change({ picture: { photo, fills: art.picture?.fills ?? "trimmed", ...own } });
			})(),
		);
		setBusy(false);
	};
	return (
		<div className="grid gap-3">
			<div className="@lg:w-1/2">{fields.words("/art/name", "Called")}</div>
			<div className="flex flex-wrap gap-3">
				<label className="flex min-h-11 cursor-pointer items-center rounded border border-soft bg-paper px-4 focus-within:outline-3 focus-within:outline-measure">
					{art.picture ? "Another picture" : "Choose its picture"}
					<input
						type="file"
						accept="image/jpeg,image/png,image/webp,image/svg+xml,application/pdf,.pdf,.svg"
						className="sr-only"
						onChange={(e) => {
							const file = e.target.files?.[0];
							if (file) void choose(file);
							e.target.value = "";
						}}
					/>
				</label>
				{piece.picture?.own_height && (
					<Button onClick={() => tell(change({ height_mm: piece.picture?.own_height?.mm }))}>
						Make it {piece.picture.own_height.text} high
					</Button>
				)}
				{art.picture && <Button onClick={() => tell(change({ picture: null }))}>Take the picture off</Button>}
			</div>
			{busy && <p role="status">Taking the picture…</p>}
			<Sentence said={whole} slots={bleedSlot} kept={kept} label="The print" />
			<FilmColour label="Ground colour" value={art.colour} onChange={(colour) => tell(change({ colour }))} />
			<ul className="grid gap-2">
				{keys.map((k, n) => (
					<li
						key={n}
						aria-label={`Must stay clear: ${k.name}`}
						className="flex flex-wrap items-end justify-between gap-3 rounded bg-paper px-3 py-2"
					>
						<div className="min-w-0 grow basis-60">
							{fields.words(`/art/keys/${n}/name`, "What must stay clear")}
						</div>
						<Button onClick={() => tell(change({ keys: keys.filter((_, m) => m !== n) }))}>
							Take it out
						</Button>
						<div className="basis-full">
							<Sentence said={clear[n] ?? []} kept={kept} label={k.name} />
						</div>
					</li>
				))}
			</ul>
			<Button
				className="justify-self-start"
				onClick={() =>
					tell(
						change({
							keys: [
								...keys,
								{
									name: "phone number",
									right_mm: "4 in",
									down_mm: "4 in",
									width_mm: "12 in",
									height_mm: "3 in",
								},
							],
						}),
					)
				}
			>
				Something must stay clear
			</Button>
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
		</div>
	);
}
