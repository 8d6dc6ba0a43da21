import { freshKey, type Schemas } from "../../api/client";
import { Button } from "../../ui/parts";
import { Field } from "./Field";

type Laminate = Schemas["Laminate"];

/** Figures of a laminate as they are typed; shares in per cent. */
const FIGURES = [
	{ key: "thickness_mm", label: "With the film, mm", share: false },
	{ key: "stretch", label: "Stretch one way, %", share: true },
	{ key: "two_way_stretch", label: "Both ways at once, %", share: true },
	{ key: "upright_years", label: "Lasts upright, years", share: false },
	{ key: "lying_years", label: "Lasts lying, years", share: false },
] as const;

/** A laminate as it is typed; its key keeps the fields apart while names change. */
export type TypedLaminate = { id: string; name: string } & Record<(typeof FIGURES)[number]["key"], string>;

const figure = (value: number | null | undefined, share: boolean) =>
	value === null || value === undefined ? "" : `${share ? Math.round(value * 1000) / 10 : value}`;

/** The laminates of a sheet as they are typed. */
export const typedLaminates = (laminates: Laminate[]): TypedLaminate[] =>
	laminates.map((l) => ({
		id: freshKey(),
		name: l.name ?? "",
		thickness_mm: figure(l.thickness_mm, false),
		stretch: figure(l.stretch, true),
		two_way_stretch: figure(l.two_way_stretch, true),
		upright_years: figure(l.upright_years, false),
		lying_years: figure(l.lying_years, false),
	}));

/** The laminates from what was typed; a field that is no figure is named. */
export const readLaminates = (typed: TypedLaminate[]): Laminate[] =>
	typed.map((t) => {
		const read: Record<string, unknown> = { name: t.name.trim() };
		for (const { key, label, share } of FIGURES) {
			const text = t[key].trim().replace(",", ".").replace("%", "");
			if (text === "") continue;
			const value = Number(text);
			if (Number.isNaN(value))
				throw new Error(`${t.name || "A laminate"}, ${label}: type one figure, or leave it empty.`);
			read[key] = share ? value / 100 : value;
		}
		return read as Laminate;
	});

/** The laminates that belong to a film. Which of them goes over a piece is chosen with its film. */
export function Laminates({
	typed,
	onChange,
}: {
	typed: TypedLaminate[];
	onChange: (typed: TypedLaminate[]) => void;
}) {
	const put = (id: string, field: string, text: string) =>
		onChange(typed.map((t) => (t.id === id ? { ...t, [field]: text } : t)));
	const add = () => {
		const empty = { thickness_mm: "", stretch: "", two_way_stretch: "", upright_years: "", lying_years: "" };
		onChange([...typed, { id: freshKey(), name: "", ...empty }]);
	};
	return (
		<section aria-label="Its laminates" className="grid gap-3 @md:col-span-2 @2xl:col-span-3">
			<h3 className="font-bold text-lg">Its laminates</h3>
			<p className="text-soft">
				Figures of film and laminate together, as its sheet prints them; what is left empty is as for the
				film. The thinnest is offered over recesses, the one that gives most over curves, the longest-lived on
				flats.
			</p>
			{typed.map((t, n) => (
				<fieldset key={t.id} className="grid gap-3 border-line border-t pt-3 @md:grid-cols-3">
					<legend className="sr-only">{t.name || `Laminate ${n + 1}`}</legend>
					<Field label="Laminate" value={t.name} onChange={(v) => put(t.id, "name", v)} />
					{FIGURES.map(({ key, label }) => (
						<Field key={key} numeric label={label} value={t[key]} onChange={(v) => put(t.id, key, v)} />
					))}
					<Button
						className="justify-self-start"
						aria-label={`Leave ${t.name || `laminate ${n + 1}`} out`}
						onClick={() => onChange(typed.filter((o) => o.id !== t.id))}
					>
						Leave it out
					</Button>
				</fieldset>
			))}
			<Button className="justify-self-start" onClick={add}>
				Add a laminate
			</Button>
		</section>
	);
}
