import { useTelling } from "../../job/useTelling";
import { bind } from "../../readings/bound";
import { LengthField } from "../../readings/LengthField";
import { FilmColour } from "../../ui/FilmColour";
import { Button, Choice, TroubleNote } from "../../ui/parts";
import type { Drawing, Editable, OnSave, Panel, Spec, Stripe } from "./pieces";

/** A stripe: its bands, what it keeps off, and what goes round its ends. */
export function StripeForm({ piece, art, onSave }: { piece: Editable; art: Stripe; onSave: OnSave }) {
	const { wrong, tell } = useTelling();
	const spec = piece.spec as Spec;
	const fields = bind<Spec>(spec, piece.printed, (next) => onSave(piece, next), tell);
	const change = (part: Partial<Stripe>) => onSave(piece, { ...spec, art: { ...art, ...part } });
	const byEdges = spec.place.by === "rules" && spec.place.along.rule === "same_gap";
	const band = (n: number, part: Partial<Stripe["bands"][number]>) =>
		change({ bands: art.bands.map((b, k) => (k === n ? { ...b, ...part } : b)) });
	const last = art.bands.at(-1);
	return (
		<div className="grid gap-4 @lg:grid-cols-2 @4xl:grid-cols-4">
			{fields.words("/art/name", "Called")}
			{!byEdges && fields.length("/art/length_mm", "Length")}
			{fields.length("/art/clearance_mm", "Keeps off hardware by")}
			{fields.length("/art/wrap_mm", "Goes round each end by", "trimmed inside the edge")}
			{fields.tick("/art/parted", "Parted at door gaps")}
			{art.parted && fields.length("/art/margin_mm", "Margin on each side of a gap")}
			<div className="@lg:col-span-2">
				<FilmColour
					label="Colour of the film"
					value={art.colour}
					onChange={(colour) => tell(change({ colour }))}
				/>
			</div>
			<ol className="grid gap-2 @lg:col-span-2 @4xl:col-span-4">
				{art.bands.map((b, n) => (
					<li
						key={n}
						className="grid gap-3 rounded bg-paper p-3 @lg:grid-cols-4"
						aria-label={`Band ${n + 1}`}
					>
						{fields.length(`/art/bands/${n}/gap_mm`, n === 0 ? "Gap above band 1" : `Gap to band ${n}`)}
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
						{fields.length(`/art/bands/${n}/rear_width_mm`, "Width at the rear")}
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
	const fields = bind<Spec>(spec, piece.printed, (next) => onSave(piece, next), tell);
	const change = (part: Partial<Drawing>) => onSave(piece, { ...spec, art: { ...art, ...part } });
	const seam = art.seam?.seam ?? "none";
	return (
		<div className="grid gap-4 @lg:grid-cols-2 @4xl:grid-cols-4">
			{fields.words("/art/name", "Called")}
			{fields.lengthOrNone("/art/width_mm", "Width, where it is not as drawn")}
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
			{art.seam?.seam === "overlap" && fields.length("/art/seam/overlap_mm", "Overlaps by")}
			{fields.choice(
				"/art/error_to",
				"If it does not quite fit, the error",
				[
					{ value: "evenly", text: "is shared by all points" },
					{ value: "away_from_point", text: "runs away from its point" },
				],
				"evenly",
			)}
			{fields.tick("/art/flipped", "Turned over, for the other side")}
			<div className="@lg:col-span-2">
				<FilmColour
					label="Colour of the film"
					value={art.colour}
					onChange={(colour) => tell(change({ colour }))}
				/>
			</div>
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
			<p className="text-soft @lg:col-span-2 @4xl:col-span-4">
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
	const fields = bind<Spec>(spec, piece.printed, (next) => onSave(piece, next), tell);
	const change = (part: Partial<Panel>) => onSave(piece, { ...spec, art: { ...art, ...part } });
	const keys = art.keys ?? [];
	return (
		<div className="grid gap-4 @lg:grid-cols-2 @4xl:grid-cols-4">
			{fields.words("/art/name", "Called")}
			{fields.length("/art/width_mm", "Width as trimmed")}
			{fields.length("/art/height_mm", "Height as trimmed")}
			{art.bleeds ? (
				<>
					{fields.length("/art/bleeds/front_mm", "Bleed at the front")}
					{fields.length("/art/bleeds/rear_mm", "Bleed at the rear")}
					{fields.length("/art/bleeds/top_mm", "Bleed above")}
					{fields.length("/art/bleeds/foot_mm", "Bleed below")}
				</>
			) : (
				fields.length("/art/bleed_mm", "Bleed on every side")
			)}
			<label className="flex h-11 items-center gap-3 self-end">
				<input
					type="checkbox"
					checked={art.bleeds != null}
					onChange={(e) => {
						const same = art.bleed_mm;
						const bleeds = { front_mm: same, rear_mm: same, top_mm: same, foot_mm: same };
						tell(change({ bleeds: e.target.checked ? bleeds : null }));
					}}
					className="h-6 w-6 accent-spruce"
				/>
				Each edge by itself
			</label>
			<div className="@lg:col-span-2">
				<FilmColour
					label="Ground colour"
					value={art.colour}
					onChange={(colour) => tell(change({ colour }))}
				/>
			</div>
			<ul className="grid gap-2 @lg:col-span-2 @4xl:col-span-4">
				{keys.map((k, n) => (
					<li
						key={n}
						aria-label={`Must stay clear: ${k.name}`}
						className="grid gap-3 rounded bg-paper p-3 @lg:grid-cols-6"
					>
						{fields.words(`/art/keys/${n}/name`, "What must stay clear")}
						{fields.length(`/art/keys/${n}/right_mm`, "From the left trim")}
						{fields.length(`/art/keys/${n}/down_mm`, "From the top trim")}
						{fields.length(`/art/keys/${n}/width_mm`, "Width")}
						{fields.length(`/art/keys/${n}/height_mm`, "Height")}
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
