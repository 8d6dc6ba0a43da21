import { useEffect, useId, useRef, useState } from "react";
import type { Schemas } from "../../api/client";
import { useSetWords, useShop } from "../../api/queries";
import { useTelling } from "../../job/useTelling";
import { LengthField } from "../../readings/LengthField";
import { NumberField } from "../../readings/NumberField";
import { FilmColour } from "../../ui/FilmColour";
import { Choice, TroubleNote } from "../../ui/parts";
import { OutlinePicture } from "../../ui/ShapePicture";
import { OwnTypeface } from "./OwnTypeface";
import type { Editable, Lettering, OnSave, Spec } from "./pieces";

const SPACING = {
	kerned: "Kerned: pairs such as AV closed up as the typeface asks.",
	optical: "Optical: the same area of body between all neighbours, as between two H.",
	as_drawn: "As drawn: each letter's own width, nothing else.",
} as const;

/** What a piece says, in which typeface, how big, how spaced, and in which layers. */
export function Words({
	piece,
	art,
	unit,
	onSave,
}: {
	piece: Editable;
	art: Lettering;
	unit: Schemas["Unit"];
	onSave: OnSave;
}) {
	const shop = useShop();
	const id = useId();
	const [text, setText] = useState(art.text);
	const { wrong, tell } = useTelling();
	useEffect(() => setText(art.text), [art.text]);
	const set = useSetWords(art.text);
	const spec = piece.spec as Spec;
	const change = (part: Partial<Lettering>) => onSave(piece, { ...spec, art: { ...art, ...part } });
	const sending = useRef<string | null>(null);
	const commit = async () => {
		// Enter and then leaving the field is one wish, not two.
		if (text === art.text || sending.current === text) return;
		sending.current = text;
		await tell(change({ text }));
		sending.current = null;
	};
	const by = art.size.by;
	const usual = unit === "millimetre" ? "200 mm" : "8 in";
	const lines = art.text.split("\n").length;
	return (
		<div className="grid gap-4 @lg:grid-cols-2 @4xl:grid-cols-4">
			<div className="flex min-w-0 flex-col gap-1">
				<label htmlFor={id} className="text-soft">
					Words
				</label>
				<textarea
					id={id}
					rows={Math.min(Math.max(text.split("\n").length, 1), 4)}
					value={text}
					onChange={(e) => setText(e.target.value)}
					onBlur={commit}
					onKeyDown={(e) => {
						if (e.key === "Enter" && !e.shiftKey) {
							e.preventDefault();
							commit();
						}
					}}
					aria-invalid={wrong !== null}
					aria-describedby={`${id}-hint`}
					className="min-h-11 resize-none rounded border border-soft bg-paper px-3 py-2 text-lg"
				/>
				<span id={`${id}-hint`} className="text-soft">
					Shift and Enter begins a new line.
				</span>
				{wrong && <TroubleNote>{wrong}</TroubleNote>}
			</div>
			<Choice
				label="Typeface"
				value={art.typeface}
				options={(shop.data?.typefaces ?? []).map((t) => ({
					value: t.id,
					text: t.name,
					note: t.character,
					// The job's own words in each: chosen by how it looks.
					picture: (
						<OutlinePicture
							picture={set.data?.find((s) => s.typeface === t.id)}
							width={190}
							height={26}
							filled
						/>
					),
				}))}
				onChange={(typeface) => tell(change({ typeface }))}
			/>
			<div className="self-end">
				<OwnTypeface onAdded={(typeface) => tell(change({ typeface }))} />
			</div>
			<Choice
				label="Sized by"
				value={by}
				options={[
					{ value: "capital_height", text: "capital height" },
					{ value: "x_height", text: "height of a small x" },
					{ value: "overall_width", text: "overall width" },
				]}
				onChange={(next) =>
					next !== by &&
					tell(
						change({
							size:
								next === "overall_width"
									? { by: next, width_mm: unit === "millimetre" ? "1500 mm" : "5' 0" }
									: { by: next as "capital_height" | "x_height", height_mm: usual },
						}),
					)
				}
			/>
			{by === "overall_width" ? (
				<LengthField
					label="Overall width"
					printed={piece.printed["/art/size/width_mm"]}
					onCommit={(typed) => change({ size: { by, width_mm: typed } })}
				/>
			) : (
				<LengthField
					label={by === "x_height" ? "Height of a small x" : "Capital height"}
					printed={piece.printed["/art/size/height_mm"]}
					onCommit={(typed) => change({ size: { by, height_mm: typed } })}
				/>
			)}
			<div className="flex min-w-0 flex-col gap-1">
				<Choice
					label="Spacing of the letters"
					value={art.spacing ?? "kerned"}
					options={[
						{ value: "kerned", text: "kerned" },
						{ value: "optical", text: "optical" },
						{ value: "as_drawn", text: "as drawn" },
					]}
					onChange={(spacing) => tell(change({ spacing }))}
				/>
				<p className="text-soft">{SPACING[art.spacing ?? "kerned"]}</p>
			</div>
			<NumberField
				label="Extra space, % of a capital"
				value={art.tracking_percent ?? 0}
				whole={false}
				onCommit={(tracking_percent) => change({ tracking_percent })}
			/>
			{lines > 1 && (
				<>
					<Choice
						label="Lines stand"
						value={art.align ?? "left"}
						options={[
							{ value: "left", text: "left ends in line" },
							{ value: "centre", text: "middles in line" },
							{ value: "right", text: "right ends in line" },
						]}
						onChange={(align) => tell(change({ align }))}
					/>
					<NumberField
						label="Line to line, % of a capital"
						value={art.leading_percent ?? 160}
						whole={false}
						onCommit={(leading_percent) => change({ leading_percent })}
					/>
				</>
			)}
			<Choice
				label="Bent"
				value={art.arch?.bends ?? "straight"}
				options={[
					{ value: "straight", text: "straight" },
					{ value: "up", text: "like a bridge" },
					{ value: "down", text: "like a bowl" },
				]}
				onChange={(bends) =>
					tell(
						change({
							arch:
								bends === "straight"
									? null
									: {
											bends: bends as "up" | "down",
											radius_mm: art.arch?.radius_mm ?? (unit === "millimetre" ? "2000 mm" : "6 ft"),
										},
						}),
					)
				}
			/>
			{art.arch && (
				<LengthField
					label="Radius of the bend"
					printed={piece.printed["/art/arch/radius_mm"]}
					onCommit={(radius_mm) => change({ arch: { bends: art.arch?.bends ?? "up", radius_mm } })}
				/>
			)}
			<div className="@lg:col-span-2">
				<FilmColour
					label="Colour of the film"
					value={art.colour}
					onChange={(colour) => tell(change({ colour }))}
				/>
			</div>
			<Layers art={art} piece={piece} change={change} tell={tell} unit={unit} />
		</div>
	);
}

/** A part that can be there or not, as a box to tick. */
function Tick({ label, on, onChange }: { label: string; on: boolean; onChange: (on: boolean) => void }) {
	return (
		<label className="flex h-11 items-center gap-3">
			<input
				type="checkbox"
				checked={on}
				onChange={(e) => onChange(e.target.checked)}
				className="h-6 w-6 accent-spruce"
			/>
			{label}
		</label>
	);
}

/** Outline, shadow and second colour: layers of their own, cut from their own film. */
function Layers({
	art,
	piece,
	change,
	tell,
	unit,
}: {
	art: Lettering;
	piece: Editable;
	change: (part: Partial<Lettering>) => Promise<unknown>;
	tell: (work: Promise<unknown>) => Promise<unknown>;
	unit: Schemas["Unit"];
}) {
	const { outline, shadow, second } = art;
	const small = unit === "millimetre" ? "6 mm" : "1/4 in";
	return (
		<div className="grid gap-3 @lg:col-span-2 @4xl:col-span-4 @4xl:grid-cols-3">
			<section aria-label="Outline" className="flex flex-col gap-2 rounded bg-paper p-3">
				<Tick
					label="Outline round the letters"
					on={outline != null}
					onChange={(on) => tell(change({ outline: on ? { out_mm: small, colour: "#f4f1e6" } : null }))}
				/>
				{outline && (
					<>
						<LengthField
							label="It stands out by"
							printed={piece.printed["/art/outline/out_mm"]}
							onCommit={(out_mm) => change({ outline: { ...outline, out_mm } })}
						/>
						<FilmColour
							label="Colour of the outline"
							value={outline.colour}
							onChange={(colour) => tell(change({ outline: { ...outline, colour } }))}
						/>
					</>
				)}
			</section>
			<section aria-label="Drop shadow" className="flex flex-col gap-2 rounded bg-paper p-3">
				<Tick
					label="Drop shadow"
					on={shadow != null}
					onChange={(on) =>
						tell(change({ shadow: on ? { right_mm: small, down_mm: small, colour: "#1a1a1a" } : null }))
					}
				/>
				{shadow && (
					<>
						<LengthField
							label="To the right by"
							printed={piece.printed["/art/shadow/right_mm"]}
							onCommit={(right_mm) => change({ shadow: { ...shadow, right_mm } })}
						/>
						<LengthField
							label="Down by"
							printed={piece.printed["/art/shadow/down_mm"]}
							onCommit={(down_mm) => change({ shadow: { ...shadow, down_mm } })}
						/>
						<FilmColour
							label="Colour of the shadow"
							value={shadow.colour}
							onChange={(colour) => tell(change({ shadow: { ...shadow, colour } }))}
						/>
					</>
				)}
			</section>
			<section aria-label="Second colour" className="flex flex-col gap-2 rounded bg-paper p-3">
				<Tick
					label="Words in a second colour"
					on={second != null}
					onChange={(on) =>
						tell(
							change({
								second: on ? { words: art.text.split(/\s+/).at(-1) ?? "", colour: "#8c1d18" } : null,
							}),
						)
					}
				/>
				{second && (
					<>
						<SecondWords
							words={second.words}
							onCommit={(words) => change({ second: { ...second, words } })}
						/>
						<FilmColour
							label="Second colour"
							value={second.colour}
							onChange={(colour) => tell(change({ second: { ...second, colour } }))}
						/>
					</>
				)}
			</section>
		</div>
	);
}

function SecondWords({ words, onCommit }: { words: string; onCommit: (words: string) => Promise<unknown> }) {
	const id = useId();
	const [text, setText] = useState(words);
	const { wrong, tell } = useTelling();
	useEffect(() => setText(words), [words]);
	const commit = () => text !== words && tell(onCommit(text));
	return (
		<div className="flex min-w-0 flex-col gap-1">
			<label htmlFor={id} className="text-soft">
				Which words, as they stand
			</label>
			<input
				id={id}
				value={text}
				onChange={(e) => setText(e.target.value)}
				onBlur={commit}
				onKeyDown={(e) => e.key === "Enter" && commit()}
				className="h-11 rounded border border-soft bg-paper px-3"
			/>
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
		</div>
	);
}
