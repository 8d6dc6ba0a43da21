import type { Schemas } from "../../api/client";
import { useTelling } from "../../job/useTelling";
import { LengthField } from "../../readings/LengthField";
import { NumberField } from "../../readings/NumberField";
import { TextField } from "../../readings/TextField";
import { Choice, TroubleNote } from "../../ui/parts";
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

/** Where a piece goes, by rule: one rule each for along, down and angle, or one for all three. */
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
	};
	return (
		<div className="grid gap-4 md:grid-cols-2 xl:grid-cols-4">
			<Choice
				label="Placed by"
				value={place.by}
				onChange={setBy}
				options={[
					{ value: "rules", text: "a rule for along, down and angle" },
					{ value: "points", text: "points measured on the body" },
					...(others.length > 0 ? [{ value: "marks" as const, text: "another piece's marks" }] : []),
					...(place.by === "mirrored"
						? [{ value: "mirrored" as const, text: "its twin on the other side" }]
						: []),
				]}
			/>
			{place.by === "rules" && (
				<RuleFields side={side} piece={piece} place={place} others={others} save={save} tell={tell} />
			)}
			{place.by === "points" && planned && (
				<Points side={side} piece={piece} planned={planned} place={place} save={save} tell={tell} />
			)}
			{place.by === "mirrored" && (
				<p className="self-center md:col-span-2">
					It lies as far from the front and the {side.spec.rail} as its twin on the other side, and follows
					it. Lettering reads from left to right on both.
				</p>
			)}
			{place.by === "marks" && (
				<Choice
					label="Laid on the marks of"
					value={place.of}
					options={others}
					onChange={(of) => tell(save({ by: "marks", of }))}
				/>
			)}
			<NumberField
				label="Goes on as number"
				value={spec.order ?? 0}
				whole={false}
				onCommit={(order) => onSave(piece, { ...spec, order: Math.round(order) })}
			/>
			<TextField
				label="Moves with the group"
				value={spec.group ?? ""}
				onCommit={(group) => onSave(piece, { ...spec, group: group === "" ? null : group })}
				hint="pieces with the same word move together"
			/>
			{planned?.fit && <FitNote fit={planned.fit} />}
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
		<section aria-label="How it fits" className="rounded bg-paper p-3 md:col-span-2">
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
] as const;

function RuleFields({
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
}) {
	const { along, down, angle } = place;
	const spec = piece.spec as Spec;
	const lettered = spec.art.is === "lettering";
	const edges = edgesOf(side);
	const levels = levelsOf(side);
	const datum = side.spec.references?.find((r) => r.id === place.reference)?.name ?? side.spec.rail;
	const change = (part: Partial<Rules>) => save({ ...place, ...part });
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
	const alongChoices = Object.entries({ ...ALONG_WORDS, ...ends })
		.filter(([value]) => value !== "beside" || others.length > 0)
		.filter(([value]) => value !== "same_gap" || spec.art.is === "stripe")
		.map(([value, text]) => ({ value, text }));
	const alongEdge = (which: "from" | "to" | "edge", label: string) => {
		const value = (along as Record<string, unknown>)[which] as Edge | undefined;
		return (
			value && (
				<Choice
					label={label}
					value={keyOf(value)}
					options={edges}
					onChange={(key) => {
						const edge = JSON.parse(key) as Edge;
						// From an end of the body there is one way only.
						const way =
							edge.edge === "rear_edge" ? "ahead" : edge.edge === "front_edge" ? "behind" : undefined;
						const turned = way && along.rule === "from_edge" ? { way } : {};
						tell(change({ along: { ...along, [which]: edge, ...turned } as Along }));
					}}
				/>
			)
		);
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
	const downLevel = (which: "from" | "to" | "height", label: string) => {
		const value = (down as Record<string, unknown>)[which];
		return (
			typeof value === "object" &&
			value !== null && (
				<Choice
					label={label}
					value={keyOf(value)}
					options={levels}
					onChange={(key) => tell(change({ down: { ...down, [which]: JSON.parse(key) } as Down }))}
				/>
			)
		);
	};
	const difference = planned?.readings.level_difference;
	const lines = side.drawing.lines.map((l) => ({ value: `${l.feature} ${l.in_feature}`, text: l.name }));
	return (
		<>
			{side.spec.references && side.spec.references.length > 0 && (
				<Choice
					label="Read from the"
					value={place.reference ?? RAIL}
					onChange={(id) => tell(change({ reference: id === RAIL ? null : id }))}
					options={[
						{ value: RAIL, text: side.spec.rail },
						...side.spec.references.map((r) => ({ value: r.id, text: r.name })),
					]}
				/>
			)}
			<Choice label={`Along the ${datum}`} value={rule} onChange={setAlong} options={alongChoices} />
			{along.rule === "from_front" && (
				<LengthField
					label={capital(ends[along.to])}
					printed={piece.printed["/place/along/distance_mm"]}
					onCommit={(typed) => change({ along: { ...along, distance_mm: typed } })}
				/>
			)}
			{along.rule === "from_edge" && (
				<>
					{alongEdge("edge", "From the")}
					<Choice
						label="It lies"
						value={along.way}
						options={[
							{ value: "behind", text: "behind it" },
							{ value: "ahead", text: "ahead of it" },
						]}
						onChange={(way) => tell(change({ along: { ...along, way } }))}
					/>
					<LengthField
						label="Clear distance along"
						printed={piece.printed["/place/along/distance_mm"]}
						onCommit={(typed) => change({ along: { ...along, distance_mm: typed } })}
					/>
				</>
			)}
			{(along.rule === "centred" || along.rule === "equal_gaps" || along.rule === "same_gap") && (
				<>
					{alongEdge("from", "Between the")}
					{alongEdge("to", "and the")}
				</>
			)}
			{along.rule === "same_gap" && (
				<LengthField
					label="Gap at each end"
					printed={piece.printed["/place/along/gap_mm"]}
					onCommit={(typed) => change({ along: { ...along, gap_mm: typed } })}
				/>
			)}
			{along.rule === "equal_gaps" && (
				<>
					<TextField
						label="Name of the row"
						value={along.row}
						onCommit={(row) => change({ along: { ...along, row } })}
					/>
					<NumberField
						label="Number in the row"
						value={along.number}
						onCommit={(number) => change({ along: { ...along, number } })}
					/>
				</>
			)}
			{along.rule === "beside" && (
				<>
					<Choice
						label="Beside"
						value={along.piece}
						options={others}
						onChange={(other) => tell(change({ along: { ...along, piece: other } }))}
					/>
					<Choice
						label="It stands"
						value={along.way}
						options={[
							{ value: "behind", text: "behind it" },
							{ value: "ahead", text: "ahead of it" },
						]}
						onChange={(way) => tell(change({ along: { ...along, way } }))}
					/>
					<LengthField
						label="Gap between them"
						printed={piece.printed["/place/along/gap_mm"]}
						onCommit={(typed) => change({ along: { ...along, gap_mm: typed } })}
					/>
				</>
			)}
			<Choice
				label={`Down from the ${datum}`}
				value={down.rule}
				onChange={setDown}
				options={[
					{ value: "from_datum", text: "a distance" },
					{ value: "from_height", text: "a distance from something else" },
					{ value: "centred", text: "centred between two heights" },
					...(others.length > 0 ? [{ value: "next_to" as const, text: "over or under another piece" }] : []),
				]}
			/>
			{down.rule === "from_height" && downLevel("height", "From the")}
			{down.rule === "centred" && (
				<>
					{downLevel("from", "Centred between the")}
					{downLevel("to", "and this height")}
				</>
			)}
			{(down.rule === "from_height" || down.rule === "next_to") && (
				<Choice
					label="It is"
					value={down.way}
					options={[
						{ value: "below", text: "below it" },
						{ value: "above", text: "above it" },
					]}
					onChange={(way) => tell(change({ down: { ...down, way } }))}
				/>
			)}
			{down.rule === "next_to" && (
				<>
					<Choice
						label="Over or under"
						value={down.piece}
						options={others}
						onChange={(other) => tell(change({ down: { ...down, piece: other } }))}
					/>
					<LengthField
						label="Gap down between them"
						printed={piece.printed["/place/down/gap_mm"]}
						onCommit={(typed) => change({ down: { ...down, gap_mm: typed } })}
					/>
				</>
			)}
			{(down.rule === "from_datum" || down.rule === "from_height") && (
				<>
					<LengthField
						label={
							down.rule === "from_datum"
								? `${capital(datum)} down to ${lettered && down.to === "cap_line" ? "the cap line" : "it"}`
								: "Clear distance down"
						}
						printed={piece.printed["/place/down/distance_mm"]}
						onCommit={(typed) => change({ down: { ...down, distance_mm: typed } })}
					/>
					<Choice
						label="The distance runs to"
						value={down.to}
						options={[...DOWN_TO]}
						onChange={(to) => tell(change({ down: { ...down, to } }))}
					/>
				</>
			)}
			<div>
				<Choice
					label="Angle"
					value={angle.rule}
					onChange={(next) => {
						if (next === angle.rule) return;
						const line = side.drawing.lines[0];
						const all: Record<string, Rules["angle"]> = {
							along_datum: { rule: "along_datum" },
							level: { rule: "level" },
							degrees: { rule: "degrees", degrees: 0 },
							to_drop: { rule: "to_drop", rear_drop_mm: planned?.readings.cap_line.mm ?? "12 in" },
							...(line && {
								along_line: { rule: "along_line", feature: line.feature, number: line.in_feature },
							}),
						};
						const chosen = all[next];
						if (chosen) tell(change({ angle: chosen }));
					}}
					options={[
						{ value: "along_datum", text: `parallel to the ${datum}` },
						{ value: "level", text: "level with the ground" },
						...(lines.length > 0 ? [{ value: "along_line" as const, text: "parallel to a line" }] : []),
						{ value: "degrees", text: "turned by degrees" },
						...(down.rule === "from_datum"
							? [{ value: "to_drop" as const, text: "to another height at its rear end" }]
							: []),
					]}
				/>
				{difference && difference.mm !== 0 && (
					<p className="mt-1 text-soft">
						The {datum} and level differ by{" "}
						<span className="font-reading">{difference.text.replace("−", "")}</span> over this piece.
					</p>
				)}
			</div>
			{angle.rule === "degrees" && (
				<NumberField
					label="Degrees, rear end down"
					value={angle.degrees}
					whole={false}
					onCommit={(degrees) => change({ angle: { rule: "degrees", degrees } })}
				/>
			)}
			{angle.rule === "along_line" && (
				<Choice
					label="Parallel to the"
					value={`${angle.feature} ${angle.number}`}
					options={lines}
					onChange={(key) => {
						const [feature = "", number = "1"] = key.split(" ");
						tell(change({ angle: { rule: "along_line", feature, number: Number(number) } }));
					}}
				/>
			)}
			{angle.rule === "to_drop" && (
				<LengthField
					label={`${capital(datum)} down at the rear end`}
					printed={piece.printed["/place/angle/rear_drop_mm"]}
					onCommit={(rear_drop_mm) => change({ angle: { rule: "to_drop", rear_drop_mm } })}
				/>
			)}
		</>
	);
}

/** The next free number in the row that other pieces stand in. */
function nextInRow(side: Schemas["SideView"], own: string): number {
	const numbers = [...side.pieces, ...side.failed]
		.filter((p) => p.id !== own)
		.map((p) => (p.spec as Spec).place)
		.map((place) => (place.by === "rules" && place.along.rule === "equal_gaps" ? place.along.number : 0));
	return Math.max(0, ...numbers) + 1;
}
