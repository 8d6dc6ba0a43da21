import { useState } from "react";
import { type Schemas, told } from "../../api/client";
import { useShop } from "../../api/queries";
import { BehindSkin } from "../../job/BehindSkin";
import { DayField } from "../../ui/DayField";
import { FilmColour } from "../../ui/FilmColour";
import { Choice, TroubleNote } from "../../ui/parts";

const HOLDS = {
	holds: { mark: "✓", word: "Film holds", look: "border-spruce" },
	with_care: { mark: "△", word: "Film holds with care", look: "border-tape-deep" },
	no: { mark: "✗", word: "No film yet", look: "border-trouble" },
} as const;

/** What a side is made of, and what follows: film, magnets, heat. */
export function SurfacePart({
	side,
	onSave,
}: {
	side: Schemas["SideView"];
	onSave: (spec: unknown) => Promise<unknown>;
}) {
	const shop = useShop();
	const [wrong, setWrong] = useState<string | null>(null);
	const { surface } = side.spec;
	const change = async (part: Partial<Schemas["Surface"]>) => {
		try {
			await onSave({ ...side.spec, surface: { ...surface, ...part } });
			setWrong(null);
			return true;
		} catch (error) {
			setWrong(told(error));
			return false;
		}
	};
	const verdict = side.surface;
	const holds = HOLDS[verdict.film];
	const card = "rounded border-l-8 bg-paper p-4";
	return (
		<div className="grid items-start gap-4 @4xl:grid-cols-[22rem_1fr]">
			<section aria-label="Surface" className="flex flex-col gap-3 rounded bg-paper p-4">
				<Choice
					label="Made of"
					value={surface.material}
					options={(shop.data?.materials ?? []).map((m) => ({
						value: m.value as Schemas["Material"],
						text: m.name,
					}))}
					onChange={(material) => change({ material })}
				/>
				<Choice
					label="Paint or gelcoat"
					value={surface.finish}
					options={(shop.data?.finishes ?? []).map((f) => ({
						value: f.value as Schemas["Finish"],
						text: f.name,
					}))}
					onChange={(finish) =>
						change({ finish, sprayed_on: finish === "resprayed" ? surface.sprayed_on : null })
					}
				/>
				<BehindSkin surface={surface} onChange={change} />
				<SkinThickness key={surface.skin_mm} surface={surface} unit={side.unit} onChange={change} />
				<FilmColour
					label="Colour of the body, for contrast"
					value={side.spec.colour ?? ""}
					onChange={async (colour) => {
						try {
							await onSave({ ...side.spec, colour });
							setWrong(null);
						} catch (error) {
							setWrong(told(error));
						}
					}}
				/>
				{surface.finish === "resprayed" && (
					<DayField
						label="Sprayed on"
						day={surface.sprayed_on ?? null}
						onTake={(sprayed_on) => change({ sprayed_on })}
					/>
				)}
				<label className="flex min-h-11 items-center gap-3">
					<input
						type="checkbox"
						checked={surface.protective_skin ?? false}
						onChange={(e) => change({ protective_skin: e.target.checked })}
						className="h-6 w-6 accent-spruce"
					/>
					The clear protective skin is still on
				</label>
				{surface.material === "glass" && (
					<label className="flex min-h-11 items-center gap-3">
						<input
							type="checkbox"
							checked={surface.driver_looks_through ?? true}
							onChange={(e) => change({ driver_looks_through: e.target.checked })}
							className="h-6 w-6 accent-spruce"
						/>
						The driver looks through it
					</label>
				)}
				{wrong && <TroubleNote>{wrong}</TroubleNote>}
			</section>
			<div className="grid gap-3 @4xl:grid-cols-3">
				<section aria-label="Film" className={`${card} ${holds.look}`}>
					<h3 className="font-bold text-xl">
						<span aria-hidden>{holds.mark} </span>
						{holds.word}
					</h3>
					{verdict.film_sentences.map((s) => (
						<p key={s}>{s}</p>
					))}
				</section>
				<section aria-label="Magnets" className={`${card} border-soft`}>
					<h3 className="font-bold text-xl">{verdict.magnets ? "Magnets hold" : "No magnets"}</h3>
					<p>{verdict.magnets_sentence}</p>
				</section>
				<section aria-label="Heat" className={`${card} border-soft`}>
					<h3 className="font-bold text-xl">
						At most <span className="font-reading">{verdict.ceiling_celsius}</span> °C
					</h3>
					<p>{verdict.ceiling_sentence}</p>
					<p className="mt-1 font-semibold">Keep hot air off fuel, solvent and wet panels.</p>
				</section>
			</div>
		</div>
	);
}

/** How thick the skin is, where somebody measured it at an edge or a hole: in the decimals of a caliper, not the marks of a tape. */
function SkinThickness({
	surface,
	unit,
	onChange,
}: {
	surface: Schemas["Surface"];
	unit: Schemas["Unit"];
	onChange: (part: Partial<Schemas["Surface"]>) => void;
}) {
	const [one, digits, called] = unit === "millimetre" ? [1, 2, "mm"] : [25.4, 3, "in"];
	const kept = surface.skin_mm == null ? "" : `${Number((surface.skin_mm / one).toFixed(digits))}`;
	const [text, setText] = useState(kept);
	const leave = () => {
		if (text.trim() === kept) return;
		const typed = text.trim().replace(",", ".");
		// What is no number is no thickness: the answer says what one is.
		onChange({ skin_mm: typed === "" ? null : (Number(typed) || 0) * one });
	};
	return (
		<label className="flex min-w-0 flex-col gap-1 text-soft">
			Skin, {called} thick; empty: the usual
			<input
				value={text}
				inputMode="decimal"
				onChange={(e) => setText(e.target.value)}
				onBlur={leave}
				className="h-11 rounded border border-soft bg-paper px-3 text-ink text-lg"
			/>
		</label>
	);
}
