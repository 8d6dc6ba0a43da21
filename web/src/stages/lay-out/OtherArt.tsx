import type { Schemas } from "../../api/client";
import { useTelling } from "../../job/useTelling";
import { LengthField } from "../../readings/LengthField";
import { TextField } from "../../readings/TextField";
import { FilmColour } from "../../ui/FilmColour";
import { Button, Choice, TroubleNote } from "../../ui/parts";
import type { Drawing, Editable, OnSave, Panel, Spec, Stripe } from "./pieces";

/** A stripe: its bands, what it keeps off, and what goes round its ends. */
export function StripeForm({ piece, art, onSave }: { piece: Editable; art: Stripe; onSave: OnSave }) {
	const { wrong, tell } = useTelling();
	const spec = piece.spec as Spec;
	const change = (part: Partial<Stripe>) => onSave(piece, { ...spec, art: { ...art, ...part } });
	const byEdges = spec.place.by === "rules" && spec.place.along.rule === "same_gap";
	const band = (n: number, part: Partial<Stripe["bands"][number]>) =>
		change({ bands: art.bands.map((b, k) => (k === n ? { ...b, ...part } : b)) });
	const last = art.bands.at(-1);
	return (
		<div className="grid gap-4 md:grid-cols-2 xl:grid-cols-4">
			<TextField label="Called" value={art.name} onCommit={(name) => change({ name })} />
			{!byEdges && (
				<LengthField
					label="Length"
					printed={piece.printed["/art/length_mm"]}
					onCommit={(length_mm) => change({ length_mm })}
				/>
			)}
			<LengthField
				label="Keeps off hardware by"
				printed={piece.printed["/art/clearance_mm"]}
				onCommit={(clearance_mm) => change({ clearance_mm })}
			/>
			<LengthField
				label="Goes round each end by"
				printed={piece.printed["/art/wrap_mm"]}
				onCommit={(wrap_mm) => change({ wrap_mm })}
				hint="trimmed inside the edge"
			/>
			<label className="flex h-11 items-center gap-3 self-end">
				<input
					type="checkbox"
					checked={art.parted ?? false}
					onChange={(e) => tell(change({ parted: e.target.checked }))}
					className="h-6 w-6 accent-spruce"
				/>
				Parted at door gaps
			</label>
			{art.parted && (
				<LengthField
					label="Margin on each side of a gap"
					printed={piece.printed["/art/margin_mm"]}
					onCommit={(margin_mm) => change({ margin_mm })}
				/>
			)}
			<div className="md:col-span-2">
				<FilmColour
					label="Colour of the film"
					value={art.colour}
					onChange={(colour) => tell(change({ colour }))}
				/>
			</div>
			<ol className="grid gap-2 md:col-span-2 xl:col-span-4">
				{art.bands.map((b, n) => (
					<li key={n} className="grid gap-3 rounded bg-paper p-3 md:grid-cols-4" aria-label={`Band ${n + 1}`}>
						<LengthField
							label={n === 0 ? "Gap above band 1" : `Gap to band ${n}`}
							printed={piece.printed[`/art/bands/${n}/gap_mm`]}
							onCommit={(gap_mm) => band(n, { gap_mm })}
						/>
						<LengthField
							label="Width at the front"
							printed={piece.printed[`/art/bands/${n}/front_width_mm`]}
							onCommit={(typed) =>
								// A plain stripe stays plain: both ends change until they differ.
								band(
									n,
									b.front_width_mm === b.rear_width_mm
										? { front_width_mm: typed, rear_width_mm: typed }
										: { front_width_mm: typed },
								)
							}
						/>
						<LengthField
							label="Width at the rear"
							printed={piece.printed[`/art/bands/${n}/rear_width_mm`]}
							onCommit={(rear_width_mm) => band(n, { rear_width_mm })}
						/>
						{art.bands.length > 1 && (
							<Button
								className="self-end"
								onClick={() => tell(change({ bands: art.bands.filter((_, k) => k !== n) }))}
							>
								Take band {n + 1} out
							</Button>
						)}
					</li>
				))}
			</ol>
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
	const change = (part: Partial<Drawing>) => onSave(piece, { ...spec, art: { ...art, ...part } });
	const seam = art.seam?.seam ?? "none";
	return (
		<div className="grid gap-4 md:grid-cols-2 xl:grid-cols-4">
			<TextField label="Called" value={art.name} onCommit={(name) => change({ name })} />
			<Choice
				label="Meets the piece before it"
				value={seam}
				options={[
					{ value: "none", text: "stands alone" },
					{ value: "butt", text: "edge to edge, no gap" },
					{ value: "overlap", text: "overlaps it" },
				]}
				onChange={(next) =>
					tell(
						change({
							seam: next === "overlap" ? { seam: "overlap", overlap_mm: "1/2 in" } : { seam: next },
						}),
					)
				}
			/>
			{art.seam?.seam === "overlap" && (
				<LengthField
					label="Overlaps by"
					printed={piece.printed["/art/seam/overlap_mm"]}
					onCommit={(overlap_mm) => change({ seam: { seam: "overlap", overlap_mm } })}
				/>
			)}
			<Choice
				label="If it does not quite fit, the error"
				value={art.error_to ?? "evenly"}
				options={[
					{ value: "evenly", text: "is shared by all points" },
					{ value: "away_from_point", text: "runs away from its point" },
				]}
				onChange={(error_to) => tell(change({ error_to }))}
			/>
			<label className="flex h-11 items-center gap-3 self-end">
				<input
					type="checkbox"
					checked={art.flipped ?? false}
					onChange={(e) => tell(change({ flipped: e.target.checked }))}
					className="h-6 w-6 accent-spruce"
				/>
				Turned over, for the other side
			</label>
			<div className="md:col-span-2">
				<FilmColour
					label="Colour of the film"
					value={art.colour}
					onChange={(colour) => tell(change({ colour }))}
				/>
			</div>
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
			<p className="text-soft md:col-span-2 xl:col-span-4">
				Put the point down first, swing the piece to its line, look at the far end before pressing. Fit butt
				seams first and let the error run to the side that is covered or trimmed.
			</p>
		</div>
	);
}

/** A printed panel: its size, bleed, and what in the picture must stay clear. */
export function PanelForm({ piece, art, onSave }: { piece: Editable; art: Panel; onSave: OnSave }) {
	const { wrong, tell } = useTelling();
	const spec = piece.spec as Spec;
	const change = (part: Partial<Panel>) => onSave(piece, { ...spec, art: { ...art, ...part } });
	const keys = art.keys ?? [];
	const key = (n: number, part: Partial<Schemas["KeyFeature"]>) =>
		change({ keys: keys.map((k, m) => (m === n ? { ...k, ...part } : k)) });
	return (
		<div className="grid gap-4 md:grid-cols-2 xl:grid-cols-4">
			<TextField label="Called" value={art.name} onCommit={(name) => change({ name })} />
			<LengthField
				label="Width as trimmed"
				printed={piece.printed["/art/width_mm"]}
				onCommit={(width_mm) => change({ width_mm })}
			/>
			<LengthField
				label="Height as trimmed"
				printed={piece.printed["/art/height_mm"]}
				onCommit={(height_mm) => change({ height_mm })}
			/>
			<LengthField
				label="Bleed on every side"
				printed={piece.printed["/art/bleed_mm"]}
				onCommit={(bleed_mm) => change({ bleed_mm })}
			/>
			<div className="md:col-span-2">
				<FilmColour
					label="Ground colour"
					value={art.colour}
					onChange={(colour) => tell(change({ colour }))}
				/>
			</div>
			<ul className="grid gap-2 md:col-span-2 xl:col-span-4">
				{keys.map((k, n) => (
					<li
						key={n}
						aria-label={`Must stay clear: ${k.name}`}
						className="grid gap-3 rounded bg-paper p-3 md:grid-cols-6"
					>
						<TextField label="What must stay clear" value={k.name} onCommit={(name) => key(n, { name })} />
						{(
							[
								["right_mm", "From the left trim"],
								["down_mm", "From the top trim"],
								["width_mm", "Width"],
								["height_mm", "Height"],
							] as const
						).map(([field, label]) => (
							<LengthField
								key={field}
								label={label}
								printed={piece.printed[`/art/keys/${n}/${field}`]}
								onCommit={(typed) => key(n, { [field]: typed })}
							/>
						))}
						<Button
							className="self-end"
							onClick={() => tell(change({ keys: keys.filter((_, m) => m !== n) }))}
						>
							Take it out
						</Button>
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
