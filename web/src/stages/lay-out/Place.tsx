import type { Schemas } from "../../api/client";
import { beingWritten } from "../../api/queries";
import { useTelling } from "../../job/useTelling";
import { at, put } from "../../readings/bound";
import { Figure, Line, Sentence, type Slot } from "../../readings/Sentence";
import { TroubleNote, WordChoice } from "../../ui/parts";
import { Points } from "./Points";
import {
	calledOf,
	type Editable,
	type OnSave,
	type Place as PlaceRule,
	type Rules,
	type Spec,
} from "./pieces";

type Edge = Schemas["EdgeRef"];
type Level = Schemas["LevelRef"];
type Along = Rules["along"];
type Down = Rules["down"];

const RAIL = "rail";
const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

/** Something chosen from a list as one word, its fields always in the same order. */
const keyOf = (value: object) => JSON.stringify(value, Object.keys(value).sort());

function edgesOf(side: Schemas["SideView"]): { value: string; text: string }[] {
	const of = (edge: Edge, text: string) => ({ value: keyOf(edge), text });
	return [
		of({ edge: "front_edge" }, side.edges.zero),
		...side.drawing.lines.map((l) =>
			of({ edge: "feature", feature: l.feature, number: l.in_feature, part: "middle" }, l.name),
		),
		...side.drawing.areas.flatMap((a) =>
			(["front", "rear"] as const).map((part) =>
				of({ edge: "feature", feature: a.feature, number: a.in_feature, part }, `${a.name}, ${part}`),
			),
		),
		of({ edge: "rear_edge" }, side.edges.far),
	];
}

function levelsOf(side: Schemas["SideView"]): { value: string; text: string }[] {
	const of = (level: Level, text: string) => ({ value: keyOf(level), text });
	return [
		of({ height: "upper_edge" }, side.edges.upper),
		...side.drawing.lines.map((l) =>
			of({ height: "feature", feature: l.feature, number: l.in_feature, part: "middle" }, l.name),
		),
		...side.drawing.areas.flatMap((a) =>
			(["top", "foot"] as const).map((part) =>
				of({ height: "feature", feature: a.feature, number: a.in_feature, part }, `${a.name}, ${part}`),
			),
		),
		of({ height: "lower_edge" }, side.edges.lower),
	];
}

/** Other pieces of the side that this one may be placed by. */
function othersOf(side: Schemas["SideView"], own: string) {
	return [...side.pieces, ...side.failed]
		.filter((p) => p.id !== own)
		.map((p) => ({ value: p.id, text: calledOf(p.spec as Spec) }));
}

/** Where a piece goes, as a sentence: one rule each for down, along and angle, or one for all three. */
export function Place({
	side,
	piece,
	onSave,
}: {
	side: Schemas["SideView"];
	piece: Editable;
	onSave: OnSave;
}) {
	const { wrong, tell } = useTelling();
	const spec = piece.spec as Spec;
	const { place } = spec;
	const planned = side.pieces.find((p) => p.id === piece.id);
	const save = (next: PlaceRule) => onSave(piece, { ...spec, place: next });
	const others = othersOf(side, piece.id);
	const plain: Rules = {
		by: "rules",
		reference: "reference" in place ? place.reference : null,
		along: {
			rule: "from_front",
			distance_mm: (side.edges.zero && planned?.readings.first_letter.mm) || "18 in",
			to: "first_letter",
		},
		down: { rule: "from_datum", distance_mm: planned?.readings.cap_line.mm ?? "12 in", to: "cap_line" },
		angle: { rule: "along_datum" },
	};
	const setBy = (by: string) => {
		if (by === place.by) return;
		const first = others[0]?.value;
		if (by === "rules") tell(save(plain));
		else if (by === "points") tell(save({ by, reference: plain.reference, points: startPoints(planned) }));
		else if (by === "marks" && first) tell(save({ by, of: first }));
		else if (by === "between" && filmEdges[0] && filmEdges[1])
			tell(save({ by, front: filmEdges[0].id, rear: filmEdges[1].id, lap_mm: 0 }));
	};
	const filmEdges = side.features.filter((f) => f.spec.kind === "film_edge");
	const between = place.by === "between" || (spec.art.is === "stripe" && filmEdges.length > 1);
	const ways = [
		{ value: "rules", text: "by a rule for along, down and angle" },
		{ value: "points", text: "by points measured on the body" },
		...(others.length > 0 ? [{ value: "marks", text: "by another piece's marks" }] : []),
		...(between ? [{ value: "between", text: "between the edges of film that stays" }] : []),
		...(place.by === "mirrored" ? [{ value: "mirrored", text: "by its twin on the other side" }] : []),
	];
	const slots = (at: string): Slot | undefined => {
		if (place.by === "marks" && at === "/place/of")
			return {
				label: "Laid on the marks of",
				value: place.of,
				options: others,
				chosen: (of) => tell(save({ by: "marks", of })),
			};
		return place.by === "rules" ? ruleSlots({ side, piece, place, others, save, tell })(at) : undefined;
	};
	const difference = planned?.readings.level_difference;
	const group = spec.group ?? "";
	return (
		<div className="flex min-w-0 flex-col gap-1">
			<Sentence
				said={piece.said}
				slots={slots}
				kept={
					place.by === "between"
						? { set: (path, next) => onSave(piece, put(spec, path, next)), tell }
						: undefined
				}
				label="Where it goes"
			/>
			{place.by === "points" && planned && (
				<Points side={side} piece={piece} planned={planned} place={place} save={save} tell={tell} />
			)}
			{planned?.fit && <FitNote fit={planned.fit} />}
			<Line label="How it is placed">
				It is placed{" "}
				<WordChoice
					label="Placed by"
					value={place.by}
					text={ways.find((w) => w.value === place.by)?.text ?? place.by}
					options={ways}
					onChange={setBy}
				/>
				. It goes on as number{" "}
				<Figure
					label="Goes on as number"
					printed={String(spec.order ?? 0)}
					plain
					onCommit={(text) =>
						/^\s*-?\d{1,4}\s*$/.test(text)
							? onSave(piece, { ...spec, order: Number(text) })
							: Promise.reject("Type a whole number: 1 goes on first, 0 wherever it suits.")
					}
				/>{" "}
				and moves with the group{" "}
				<Figure
					label="Moves with the group"
					printed={group}
					onCommit={(text) => onSave(piece, { ...spec, group: text.trim() === "" ? null : text.trim() })}
				/>
				.
			</Line>
			{difference && difference.mm !== 0 && (
				<p className="text-soft">
					Along the {side.spec.rail} and level differ by{" "}
					<span className="font-reading">{difference.text.replace("−", "")}</span> over this piece.
				</p>
			)}
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
		</div>
	);
}

/** Two points to begin with: the upper corners, where the piece lies now. */
function startPoints(planned: Schemas["PieceView"] | undefined): Schemas["PointReading"][] {
	const named = (name: string) => planned?.named_points.find((p) => p.name === name)?.at ?? [0, 0];
	const { front, rear } = planned?.readings.flats ?? {};
	const down = planned?.readings.cap_line.mm ?? 300;
	const [a, b] = [planned?.readings.first_letter.mm ?? 450, planned?.readings.last_letter.mm ?? 1200];
	return [
		{ at: named("upper left corner"), back_mm: a, drop_mm: front ? down : 300 },
		{ at: named("upper right corner"), back_mm: b, drop_mm: rear ? down : 300 },
	];
}

function FitNote({ fit }: { fit: Schemas["Fit"] }) {
	return (
		<section aria-label="How it fits" className="rounded bg-paper p-3 @lg:col-span-2">
			<p>{fit.sentence}</p>
			<ul className="mt-1 grid gap-1">
				{fit.misses.map((m) => (
					<li key={m.number}>
						Point {m.number}: <span className="font-reading font-bold">{m.off.text}</span> off (
						<span className="font-reading">{m.back.text}</span> back,{" "}
						<span className="font-reading">{m.down.text}</span> down)
					</li>
				))}
			</ul>
		</section>
	);
}

const ALONG_WORDS = {
	first_letter: "to its left end",
	last_letter: "to its right end",
	from_edge: "from an edge to its nearer end",
	centred: "centred between two edges",
	beside: "beside another piece",
	equal_gaps: "in a row with equal gaps",
	same_gap: "the same gap at both ends",
} as const;

const DOWN_TO = [
	{ value: "cap_line", text: "its cap line or upper edge" },
	{ value: "baseline", text: "its baseline or lower edge" },
	{ value: "middle", text: "its middle" },
	{ value: "top", text: "the top of its film" },
	{ value: "foot", text: "the foot of its film" },
];

/** What stands behind each place of a rule's sentence. */
function ruleSlots({
	side,
	piece,
	place,
	others,
	save,
	tell,
}: {
	side: Schemas["SideView"];
	piece: Editable;
	place: Rules;
	others: { value: string; text: string }[];
	save: (next: PlaceRule) => Promise<unknown>;
	tell: (work: Promise<unknown>) => Promise<unknown>;
}): (at: string) => Slot | undefined {
	const { along, down, angle } = place;
	const spec = piece.spec as Spec;
	const lettered = spec.art.is === "lettering";
	const datum = side.spec.references?.find((r) => r.id === place.reference)?.name ?? side.spec.rail;
	const planned = side.pieces.find((p) => p.id === piece.id);
	const ends = lettered
		? {
				first_letter: `${side.edges.zero} to the first letter`,
				last_letter: `${side.edges.zero} to the last letter`,
			}
		: {
				first_letter: `${side.edges.zero} to its left end`,
				last_letter: `${side.edges.zero} to its right end`,
			};
	const change = (part: Partial<Rules>) => save({ ...place, ...part });
	const typed = (label: string, path: string): Slot => ({
		label,
		typed: (text) => save(put(place, path, text)),
	});
	const counted = (label: string, path: string): Slot => ({
		label,
		typed: (text) =>
			Number.isFinite(Number(text.replace(",", "."))) && text.trim() !== ""
				? save(put(place, path, Number(text.replace(",", "."))))
				: Promise.reject("Type a number."),
	});
	/** Words at a path that stand for something: the others take its place. */
	const words = (label: string, path: string, options: { value: string; text: string }[]): Slot => {
		const now = at(place, path);
		const value = typeof now === "string" ? now : keyOf(now as object);
		return {
			label,
			value,
			options,
			chosen: (next) => tell(save(put(place, path, typeof now === "string" ? next : JSON.parse(next)))),
		};
	};

	const rule = along.rule === "from_front" ? along.to : along.rule;
	const setAlong = (next: string) => {
		if (next === rule) return;
		const distance_mm = along.rule === "from_front" ? along.distance_mm : "18 in";
		const all: Record<string, Along> = {
			first_letter: { rule: "from_front", distance_mm, to: "first_letter" },
			last_letter: { rule: "from_front", distance_mm, to: "last_letter" },
			from_edge: { rule: "from_edge", edge: { edge: "front_edge" }, distance_mm: "18 in", way: "behind" },
			centred: { rule: "centred", from: { edge: "front_edge" }, to: { edge: "rear_edge" } },
			beside: { rule: "beside", piece: others[0]?.value ?? "", gap_mm: "6 in", way: "behind" },
			equal_gaps: {
				rule: "equal_gaps",
				from: { edge: "front_edge" },
				to: { edge: "rear_edge" },
				row: "row",
				number: nextInRow(side, piece.id),
			},
			same_gap: { rule: "same_gap", from: { edge: "front_edge" }, to: { edge: "rear_edge" }, gap_mm: "2 in" },
		};
		const chosen = all[next];
		if (chosen) tell(change({ along: chosen }));
	};
	const setDown = (next: string) => {
		if (next === down.rule) return;
		const all: Record<string, Down> = {
			from_datum: {
				rule: "from_datum",
				distance_mm: planned?.readings.cap_line.mm ?? "12 in",
				to: "cap_line",
			},
			from_height: {
				rule: "from_height",
				height: { height: "lower_edge" },
				distance_mm: "6 in",
				way: "above",
				to: "foot",
			},
			centred: { rule: "centred", from: { height: "upper_edge" }, to: { height: "lower_edge" } },
			next_to: { rule: "next_to", piece: others[0]?.value ?? "", gap_mm: "3 in", way: "below" },
		};
		const chosen = all[next];
		if (chosen) tell(change({ down: chosen }));
	};
	const lines = side.drawing.lines.map((l) => ({ value: `${l.feature} ${l.in_feature}`, text: l.name }));
	const setAngle = (next: string) => {
		if (next === angle.rule) return;
		const line = side.drawing.lines[0];
		const all: Record<string, Rules["angle"]> = {
			along_datum: { rule: "along_datum" },
			level: { rule: "level" },
			degrees: { rule: "degrees", degrees: 0 },
			to_drop: { rule: "to_drop", rear_drop_mm: planned?.readings.cap_line.mm ?? "12 in" },
			...(line && { along_line: { rule: "along_line", feature: line.feature, number: line.in_feature } }),
		};
		const chosen = all[next];
		if (chosen) tell(change({ angle: chosen }));
	};

	return (where) => {
		const path = where.replace(/^\/place/, "");
		switch (path) {
			case "/reference":
				return (side.spec.references ?? []).length === 0
					? undefined
					: {
							label: "Read from the",
							value: place.reference ?? RAIL,
							options: [
								{ value: RAIL, text: side.spec.rail },
								...(side.spec.references ?? []).map((r) => ({ value: r.id, text: r.name })),
							],
							chosen: (id) => tell(change({ reference: id === RAIL ? null : id })),
						};
			case "/along":
				return {
					label: `Along the ${datum}`,
					value: rule,
					options: Object.entries({ ...ALONG_WORDS, ...ends })
						.filter(([value]) => value !== "beside" || others.length > 0)
						.filter(([value]) => value !== "same_gap" || spec.art.is === "stripe")
						.map(([value, text]) => ({ value, text })),
					chosen: setAlong,
				};
			case "/along/distance_mm":
				return typed(along.rule === "from_front" ? capital(ends[along.to]) : "Clear distance along", path);
			case "/along/gap_mm":
				return typed(along.rule === "same_gap" ? "Gap at each end" : "Gap between them", path);
			case "/along/to":
				return along.rule === "from_front"
					? words("Which end", path, [
							{ value: "first_letter", text: lettered ? "its first letter" : "its left end" },
							{ value: "last_letter", text: lettered ? "its last letter" : "its right end" },
						])
					: words("and the", path, edgesOf(side));
			case "/along/from":
				return words("Between the", path, edgesOf(side));
			case "/along/edge":
				return {
					...(words("From the", path, edgesOf(side)) as Extract<Slot, { options: unknown }>),
					chosen: (key) => {
						const edge = JSON.parse(key) as Edge;
						// From an end of the body there is one way only.
						const way =
							edge.edge === "rear_edge" ? "ahead" : edge.edge === "front_edge" ? "behind" : undefined;
						tell(change({ along: { ...along, edge, ...(way && { way }) } as Along }));
					},
				};
			case "/along/way":
				return words(along.rule === "beside" ? "It stands" : "It lies", path, [
					{ value: "behind", text: "behind" },
					{ value: "ahead", text: "ahead of" },
				]);
			case "/along/piece":
				return words("Beside", path, others);
			case "/along/row":
				return typed("Name of the row", path);
			case "/along/number":
				return counted("Number in the row", path);
			case "/down":
				return {
					label: `Down from the ${datum}`,
					value: down.rule,
					options: [
						{ value: "from_datum", text: "a distance" },
						{ value: "from_height", text: "a distance from something else" },
						{ value: "centred", text: "centred between two heights" },
						...(others.length > 0 ? [{ value: "next_to", text: "over or under another piece" }] : []),
					],
					chosen: setDown,
				};
			case "/down/distance_mm":
				return typed(
					down.rule === "from_datum"
						? `${capital(datum)} down to ${lettered && down.to === "cap_line" ? "the cap line" : "it"}`
						: "Clear distance down",
					path,
				);
			case "/down/gap_mm":
				return typed("Gap down between them", path);
			case "/down/to":
				return down.rule === "centred"
					? words("and this height", path, levelsOf(side))
					: words("The distance runs to", path, DOWN_TO);
			case "/down/from":
				return words("Centred between the", path, levelsOf(side));
			case "/down/height":
				return words("From this height", path, levelsOf(side));
			case "/down/way":
				return words("It is", path, [
					{ value: "below", text: "below" },
					{ value: "above", text: "above" },
				]);
			case "/down/piece":
				return words("Over or under", path, others);
			case "/angle":
				return {
					label: "Angle",
					value: angle.rule,
					options: [
						{ value: "along_datum", text: `parallel to the ${datum}` },
						{ value: "level", text: "level with the ground" },
						...(lines.length > 0 ? [{ value: "along_line", text: "parallel to a line" }] : []),
						{ value: "degrees", text: "turned by degrees" },
						...(down.rule === "from_datum"
							? [{ value: "to_drop", text: "to another height at its rear end" }]
							: []),
					],
					chosen: setAngle,
				};
			case "/angle/degrees":
				return counted("Degrees, rear end down", path);
			case "/angle/line":
				return {
					label: "Parallel to the",
					value: angle.rule === "along_line" ? `${angle.feature} ${angle.number}` : "",
					options: lines,
					chosen: (key) => {
						const [feature = "", number = "1"] = key.split(" ");
						tell(change({ angle: { rule: "along_line", feature, number: Number(number) } }));
					},
				};
			case "/angle/rear_drop_mm":
				return typed(`${capital(datum)} down at the rear end`, path);
			default:
				return undefined;
		}
	};
}

/** The next free number in the row that other pieces stand in. */
function nextInRow(side: Schemas["SideView"], own: string): number {
	const numbers = [...side.pieces, ...side.failed]
		.filter((p) => p.id !== own)
		.map((p) => ((beingWritten.get(p.id) ?? p.spec) as Spec).place)
		.map((place) => (place.by === "rules" && place.along.rule === "equal_gaps" ? place.along.number : 0));
	return Math.max(0, ...numbers) + 1;
}
