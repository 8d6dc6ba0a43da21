import { useState } from "react";
import { ask, client, type Schemas, told } from "../../api/client";
import { FilmColour } from "../../ui/FilmColour";
import { Button, Choice, Sheet, TroubleNote } from "../../ui/parts";
import { Field } from "./Field";
import { Laminates, readLaminates, typedLaminates } from "./Laminates";
import { OffTheShelf } from "./OffTheShelf";
import type { Film, Send } from "./sending";

type DataSheet = Schemas["DataSheet"];
type Key = Exclude<keyof DataSheet, "laminates">;
type FieldOf = { key: Key; label: string; as: "number" | "share" | "span" | "yes" };

/** Figures of a data sheet as they are typed: one number, two, or yes and no. Shares are typed in per cent. */
const FIELDS: FieldOf[] = [
	{ key: "thickness_mm", label: "Film and laminate, mm", as: "number" },
	{ key: "liner_mm", label: "Liner, mm", as: "number" },
	{ key: "fit", label: "Fitted at, °C", as: "span" },
	{ key: "form", label: "Formed at, °C", as: "span" },
	{ key: "post_heat", label: "Heated to once it lies, °C", as: "span" },
	{ key: "ceiling_celsius", label: "Never warmer than, °C", as: "number" },
	{ key: "stretch", label: "Stretch one way, %", as: "share" },
	{ key: "two_way_stretch", label: "Both ways at once, %", as: "share" },
	{ key: "stretch_most", label: "Never stretched past, %", as: "share" },
	{ key: "lap_mm", label: "Panels lap, mm", as: "span" },
	{ key: "sets_hours", label: "Sets in, hours", as: "number" },
	{ key: "first_wash_days", label: "First wash after, days", as: "number" },
	{ key: "upright_years", label: "Lasts upright, years", as: "number" },
	{ key: "lying_years", label: "Lasts lying, years", as: "number" },
	{ key: "polish_after_weeks", label: "Polish after, weeks (0: never)", as: "number" },
	{ key: "directional", label: "Liner mark the same way", as: "yes" },
	{ key: "removable", label: "Comes off cleanly", as: "yes" },
	{ key: "wet", label: "May be laid wet", as: "yes" },
	{ key: "grey", label: "Grey adhesive", as: "yes" },
	{ key: "aftercare_coat", label: "Aftercare coat once it lies", as: "yes" },
];

/** What only a film that is printed has. */
const OF_PRINTS: FieldOf[] = [
	{ key: "solvent_hours", label: "Gasses out, solvent ink, hours", as: "number" },
	{ key: "eco_solvent_hours", label: "Gasses out, eco-solvent ink, hours", as: "number" },
	{ key: "latex_hours", label: "Gasses out, latex ink, hours", as: "number" },
	{ key: "uv_hours", label: "Gasses out, UV ink, hours", as: "number" },
];
const ALL = [...FIELDS, ...OF_PRINTS];

/** A figure of the sheet as text. */
function shown(value: DataSheet[Key], as: string): string {
	if (value === null || value === undefined) return "";
	if (typeof value === "boolean") return value ? "yes" : "no";
	if (typeof value === "object")
		return value.from === value.to ? `${value.to}` : `${value.from} to ${value.to}`;
	return `${as === "share" ? Math.round(value * 1000) / 10 : value}`;
}

/** The sheet from what was typed; a field that is no figure is named. */
function read(typed: Record<string, string>): DataSheet {
	const sheet: Record<string, unknown> = {};
	for (const { key, label, as } of ALL) {
		const text = (typed[key] ?? "").trim().replace(/,/g, ".").replace(/[%°]/g, "");
		if (text === "") continue;
		if (as === "yes") {
			sheet[key] = text === "yes";
			continue;
		}
		const numbers = text.split(/\s*(?:to|\u2013|\s)\s*/).map(Number);
		const [from, to = from] = numbers;
		if (numbers.some(Number.isNaN) || from === undefined || numbers.length > (as === "span" ? 2 : 1)) {
			throw new Error(
				`${label}: type ${as === "span" ? "two figures, such as 18 to 24" : "one figure"}, or leave it empty.`,
			);
		}
		sheet[key] = as === "span" ? { from, to } : as === "share" ? from / 100 : from;
	}
	return sheet as DataSheet;
}

/** A film's data sheet over the figures of its class: what is left empty stays as it is for the class. */
export function FilmSheet({
	film,
	printed,
	send,
	onDone,
}: {
	film: Film;
	/** Whether it is a film that is printed. */
	printed: boolean;
	send: Send;
	onDone: () => void;
}) {
	const [typed, setTyped] = useState<Record<string, string>>(() =>
		Object.fromEntries(ALL.map(({ key, as }) => [key, shown(film.film.sheet?.[key] ?? null, as)])),
	);
	const [name, setName] = useState(film.film.name);
	const [colour, setColour] = useState(film.film.colour);
	const [laminates, setLaminates] = useState(() => typedLaminates(film.film.sheet?.laminates ?? []));
	const [wrong, setWrong] = useState<string | null>(null);
	const tell = (error: unknown) => setWrong(told(error));
	const keep = async () => {
		try {
			const sheet = { ...read(typed), laminates: readLaminates(laminates) };
			await send(
				ask(
					client.PUT("/api/films/{id}", {
						params: { path: { id: film.id } },
						body: { id: film.id, film: { ...film.film, name: name.trim(), colour, sheet } },
						headers: { "If-Match": `"${film.revision}"` },
					}),
				),
			);
			onDone();
		} catch (error) {
			tell(error);
		}
	};
	const usual = (key: string) => film.figures.find((f) => f.key === key);
	return (
		<Sheet wide open onOpenChange={(o) => !o && onDone()} title={film.film.name}>
			<p>
				{film.class_name}. What is left empty is as usual for its kind: common practice, no source.
				{film.from_memory && ` ${film.from_memory}`} The film’s own data sheet decides.
			</p>
			<form
				className="mt-3 grid grid-cols-[minmax(0,1fr)] gap-3 @md:grid-cols-2 @2xl:grid-cols-3"
				onSubmit={(e) => {
					e.preventDefault();
					void keep();
				}}
			>
				<Field label="What you call it" value={name} onChange={setName} />
				<div className="@md:col-span-2 @2xl:col-span-3">
					<FilmColour label="Its colour" value={colour} onChange={setColour} />
				</div>
				{(printed ? ALL : FIELDS).map(({ key, label, as }) => {
					const figure = usual(key);
					const hint =
						figure?.from === "class"
							? `usual: ${figure.text}`
							: figure
								? `its sheet: ${figure.text}`
								: undefined;
					const put = (text: string) => setTyped({ ...typed, [key]: text });
					return as === "yes" ? (
						<div key={key} className="flex flex-col gap-1">
							<Choice
								label={label}
								value={typed[key] || "open"}
								onChange={(v) => put(v === "open" ? "" : v)}
								options={[
									{ value: "open", text: figure?.from === "class" ? `as usual: ${figure.text}` : "not said" },
									{ value: "yes", text: "yes" },
									{ value: "no", text: "no" },
								]}
							/>
						</div>
					) : (
						<Field key={key} label={label} numeric value={typed[key] ?? ""} onChange={put} hint={hint} />
					);
				})}
				{printed && <Laminates typed={laminates} onChange={setLaminates} />}
				{wrong && (
					<div className="@md:col-span-2 @2xl:col-span-3">
						<TroubleNote>{wrong}</TroubleNote>
					</div>
				)}
				<div className="flex flex-wrap gap-3 @md:col-span-2 @2xl:col-span-3">
					<Button look="next" type="submit">
						Keep its sheet
					</Button>
					<a
						href={`/api/films/${film.id}/sheet.json`}
						className="flex min-h-11 items-center rounded border border-soft bg-paper px-4"
					>
						As a file (JSON)
					</a>
					<OffTheShelf
						what={film.rolls.length > 0 ? "it and its rolls" : "it"}
						onTake={() =>
							void send(ask(client.DELETE("/api/films/{id}", { params: { path: { id: film.id } } }))).then(
								onDone,
								tell,
							)
						}
					/>
				</div>
			</form>
		</Sheet>
	);
}
