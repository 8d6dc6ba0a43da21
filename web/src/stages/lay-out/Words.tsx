import { useEffect, useId, useState } from "react";
import { type Schemas, Trouble } from "../../api/client";
import { useShop } from "../../api/queries";
import { LengthField } from "../../readings/LengthField";
import { Button, Choice, TroubleNote } from "../../ui/parts";

export type Editable = { id: string; revision: number; spec: unknown; printed: Record<string, string> };
export type OnSave = (piece: Editable, spec: unknown) => Promise<unknown>;

const FILMS = [
	{ value: "#14524d", name: "spruce" },
	{ value: "#23405c", name: "harbour blue" },
	{ value: "#8c1d18", name: "signal red" },
	{ value: "#5b3f7a", name: "heather" },
	{ value: "#1a1a1a", name: "black" },
	{ value: "#b8860b", name: "gold" },
];

/** What a piece says, in which typeface, how big, in which colour. */
export function Words({
	piece,
	unit,
	onSave,
	onRemove,
}: {
	piece: Editable | undefined;
	unit: Schemas["Unit"];
	onSave: OnSave;
	onRemove: (piece: Editable) => void;
}) {
	const shop = useShop();
	const id = useId();
	const spec = piece?.spec as Schemas["Piece"] | undefined;
	const [text, setText] = useState(spec?.lettering.text ?? "");
	const [wrong, setWrong] = useState<string | null>(null);
	useEffect(() => setText(spec?.lettering.text ?? ""), [spec?.lettering.text]);
	if (!piece || !spec) return null;
	const { lettering } = spec;

	const change = (part: Partial<Schemas["Lettering"]>) =>
		onSave(piece, { ...spec, lettering: { ...lettering, ...part } });
	const tell = async (work: Promise<unknown>) => {
		try {
			await work;
			setWrong(null);
		} catch (error) {
			setWrong(error instanceof Trouble ? error.message : String(error));
		}
	};
	const commit = () => text !== lettering.text && tell(change({ text }));
	const byHeight = lettering.size.by === "capital_height";
	const usual = unit === "millimetre" ? "200 mm" : "8 in";
	return (
		<div className="grid gap-4 md:grid-cols-2 xl:grid-cols-4">
			<div className="flex flex-col gap-1">
				<label htmlFor={id} className="text-soft">
					Words
				</label>
				<input
					id={id}
					value={text}
					onChange={(e) => setText(e.target.value)}
					onBlur={commit}
					onKeyDown={(e) => e.key === "Enter" && commit()}
					aria-invalid={wrong !== null}
					className="h-11 rounded border border-soft bg-paper px-3 text-lg"
				/>
				{wrong && <TroubleNote>{wrong}</TroubleNote>}
			</div>
			<Choice
				label="Typeface"
				value={lettering.typeface}
				options={(shop.data?.typefaces ?? []).map((t) => ({ value: t.id, text: t.name, note: t.character }))}
				onChange={(typeface) => tell(change({ typeface }))}
			/>
			<Choice
				label="Sized by"
				value={lettering.size.by}
				options={[
					{ value: "capital_height", text: "capital height" },
					{ value: "overall_width", text: "overall width" },
				]}
				onChange={(by) =>
					by !== lettering.size.by &&
					tell(
						change({
							size:
								by === "capital_height"
									? { by: "capital_height", height_mm: usual }
									: { by: "overall_width", width_mm: unit === "millimetre" ? "1500 mm" : "5' 0" },
						}),
					)
				}
			/>
			<LengthField
				label={byHeight ? "Capital height" : "Overall width"}
				printed={piece.printed[byHeight ? "/lettering/size/height_mm" : "/lettering/size/width_mm"]}
				onCommit={(typed) =>
					change({
						size: byHeight
							? { by: "capital_height", height_mm: typed }
							: { by: "overall_width", width_mm: typed },
					})
				}
			/>
			<fieldset className="flex flex-wrap items-center gap-2 md:col-span-2">
				<legend className="text-soft">Colour of the film</legend>
				{FILMS.map((film) => (
					<button
						key={film.value}
						type="button"
						aria-pressed={film.value === lettering.colour}
						onClick={() => tell(change({ colour: film.value }))}
						className={`flex h-11 items-center gap-2 rounded border bg-paper px-2 ${
							film.value === lettering.colour ? "border-4 border-measure font-bold" : "border-soft"
						}`}
					>
						<span className="inline-block h-6 w-6 rounded-sm" style={{ background: film.value }} />
						{film.name}
					</button>
				))}
			</fieldset>
			<label className="flex h-11 items-center gap-3 self-end">
				<input
					type="checkbox"
					checked={lettering.kerned}
					onChange={(e) => tell(change({ kerned: e.target.checked }))}
					className="h-6 w-6 accent-spruce"
				/>
				Kern the pairs as the typeface asks
			</label>
			<Button className="self-end" onClick={() => onRemove(piece)}>
				Remove this lettering
			</Button>
		</div>
	);
}
