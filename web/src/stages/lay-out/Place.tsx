import { useState } from "react";
import { type Schemas, Trouble } from "../../api/client";
import { LengthField } from "../../readings/LengthField";
import { Choice, TroubleNote } from "../../ui/parts";
import type { Editable, OnSave } from "./Words";

type Edge = Schemas["EdgeRef"];

const RAIL = "rail";
const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

/** An edge as one word, so that it can stand in a list. */
const keyOf = (edge: Edge) => JSON.stringify(edge, Object.keys(edge).sort());

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

/** Where a piece goes, by rule: one rule each for along, down and angle. */
export function Place({
	side,
	piece,
	onSave,
}: {
	side: Schemas["SideView"];
	piece: Editable | undefined;
	onSave: OnSave;
}) {
	const [wrong, setWrong] = useState<string | null>(null);
	const spec = piece?.spec as Schemas["Piece"] | undefined;
	if (!piece || !spec) return null;
	const { place } = spec;
	const { along } = place;
	const edges = edgesOf(side);
	const datumName = side.spec.references?.find((r) => r.id === place.reference)?.name ?? side.spec.rail;
	const change = (part: Partial<Schemas["PlaceRule"]>) =>
		onSave(piece, { ...spec, place: { ...place, ...part } });
	const tell = async (work: Promise<unknown>) => {
		try {
			await work;
			setWrong(null);
		} catch (error) {
			setWrong(error instanceof Trouble ? error.message : String(error));
		}
	};
	const rule = along.rule === "from_front" ? along.to : "centred";
	const setRule = (next: string) => {
		if (next === rule) return;
		if (next === "centred") {
			tell(change({ along: { rule: "centred", from: { edge: "front_edge" }, to: { edge: "rear_edge" } } }));
			return;
		}
		const distance_mm = along.rule === "from_front" ? along.distance_mm : "18 in";
		tell(change({ along: { rule: "from_front", distance_mm, to: next as Schemas["LetterEnd"] } }));
	};
	const edge = (which: "from" | "to", label: string) =>
		along.rule === "centred" && (
			<Choice
				label={label}
				value={keyOf(along[which])}
				options={edges}
				onChange={(key) => tell(change({ along: { ...along, [which]: JSON.parse(key) as Edge } }))}
			/>
		);
	const difference =
		"readings" in piece ? (piece as unknown as Schemas["PieceView"]).readings.level_difference : undefined;
	return (
		<div className="grid gap-4 md:grid-cols-2 xl:grid-cols-4">
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
			<Choice
				label={`Along the ${datumName}`}
				value={rule}
				onChange={setRule}
				options={[
					{ value: "first_letter", text: `${side.edges.zero} to the first letter` },
					{ value: "last_letter", text: `${side.edges.zero} to the last letter` },
					{ value: "centred", text: "centred between two edges" },
				]}
			/>
			{along.rule === "from_front" && (
				<LengthField
					label={`${capital(side.edges.zero)} to the ${along.to === "first_letter" ? "first" : "last"} letter`}
					printed={piece.printed["/place/along/distance_mm"]}
					onCommit={(typed) => change({ along: { ...along, distance_mm: typed } })}
				/>
			)}
			{edge("from", "Between the")}
			{edge("to", "and the")}
			<LengthField
				label={`${capital(datumName)} down to the cap line`}
				printed={piece.printed["/place/down/cap_line_mm"]}
				onCommit={(typed) => change({ down: { cap_line_mm: typed } })}
			/>
			<div>
				<Choice
					label="Angle"
					value={place.angle}
					onChange={(angle) => tell(change({ angle }))}
					options={[
						{ value: "along_datum", text: `parallel to the ${datumName}` },
						{ value: "level", text: "level with the ground" },
					]}
				/>
				{difference && (
					<p className="mt-1 text-soft">
						The {datumName} and level differ by{" "}
						<span className="font-reading">{difference.text.replace("−", "")}</span> over this piece.
					</p>
				)}
			</div>
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
		</div>
	);
}
