import { Tabs } from "radix-ui";
import { useState } from "react";
import { Link } from "react-router";
import { type Schemas, Trouble } from "../../api/client";
import type { Editing } from "../../api/queries";
import { SidePicture } from "../../drawing/SidePicture";
import { Chain, DropLine } from "../../drawing/Tape";
import { Button, NextMove, TroubleNote } from "../../ui/parts";
import { useSaving } from "../Conflict";
import { stagePath } from "../stages";
import { LandsOn } from "./LandsOn";
import { Place } from "./Place";
import { ReadingsCards } from "./ReadingsCards";
import { useMoving } from "./useMoving";
import { Words } from "./Words";

type Side = Schemas["SideView"];
type Piece = Schemas["PieceView"];

/** Lettering to begin with; everything about it is then changed. */
const FIRST: Schemas["Piece"] = {
	lettering: {
		text: "NEW LETTERING",
		typeface: "barlow-condensed",
		size: { by: "capital_height", height_mm: "8 in" },
		kerned: true,
		colour: "#14524d",
	},
	place: {
		along: { rule: "from_front", distance_mm: "18 in", to: "first_letter" },
		down: { cap_line_mm: "12 in" },
		angle: "along_datum",
	},
};

const TABS = [
	["readings", "Readings"],
	["words", "Words and size"],
	["place", "Place"],
	["lands-on", "Lands on"],
] as const;
type Tab = (typeof TABS)[number][0];

/** Where each piece goes, read off what, how far, and what it lands on. */
export function LayOut({ side, editing }: { side: Side; editing: Editing }) {
	const [picked, setPicked] = useState<string | null>(null);
	const [tab, setTab] = useState<Tab>("readings");
	const [wrong, setWrong] = useState<string | null>(null);
	const { save, dialog } = useSaving(editing, side.unit);
	const keep = (piece: { id: string; revision: number; spec: unknown }, spec: unknown) =>
		save({ kind: "piece", id: piece.id, revision: piece.revision }, piece.spec, spec);
	const motion = useMoving(side, keep);
	const { moving } = motion;

	const chosenId = [...side.pieces, ...side.failed].find((p) => p.id === picked)?.id ?? side.pieces[0]?.id;
	const saved = side.pieces.find((p) => p.id === chosenId);
	const failed = side.failed.find((p) => p.id === chosenId);
	// While a piece is moved, its readings are the newest answer's; its film is drawn aside from where it was.
	const shown = moving && moving.id === chosenId && moving.tried ? moving.tried : saved;
	const dim = moving?.behind ?? false;

	const guard = async (work: () => Promise<unknown>) => {
		try {
			await work();
			setWrong(null);
		} catch (error) {
			setWrong(error instanceof Trouble ? error.message : String(error));
		}
	};
	const add = () =>
		guard(async () => {
			const along =
				side.spec.front === "right"
					? { ...FIRST.place.along, to: "last_letter" as const }
					: FIRST.place.along;
			const row = await editing.add("piece", side.id, { ...FIRST, place: { ...FIRST.place, along } });
			setPicked(row.id);
			setTab("words");
		});

	const drawn: Piece[] = side.pieces.map((p) => (moving?.id === p.id ? moving.base : p));
	const problem = wrong ?? motion.wrong ?? failed?.problem.detail ?? shown?.troubles[0];

	return (
		<>
			<main className="flex grow flex-col px-6 pb-3">
				<SidePicture
					side={side}
					pieces={drawn}
					maxHeight={tab === "readings" ? 400 : 330}
					label={`${side.name} with its lettering`}
					handling={(frame) => ({
						selected: chosenId,
						onSelect: setPicked,
						onPointerDown: (id, event) => {
							const piece = side.pieces.find((p) => p.id === id);
							if (piece) motion.onPointerDown(piece, event, frame.scale);
						},
						onKeyDown: (id, event) => {
							const piece = side.pieces.find((p) => p.id === id);
							if (piece && motion.onKey(piece, event.key, event.shiftKey)) event.preventDefault();
						},
						shift: moving ? { id: moving.id, right: moving.right, down: moving.down } : undefined,
					})}
				>
					{(frame) =>
						shown && (
							<>
								<DropLine datum={shown.datum} frame={frame} flat={shown.readings.flats.front} dim={dim} />
								<DropLine datum={shown.datum} frame={frame} flat={shown.readings.flats.rear} dim={dim} />
								<Chain
									drawing={side.drawing}
									datum={shown.datum}
									frame={frame}
									marks={shown.readings.chain}
									dim={dim}
								/>
							</>
						)
					}
				</SidePicture>
				<Tabs.Root value={tab} onValueChange={(t) => setTab(t as Tab)}>
					<div className="flex flex-wrap items-end justify-between gap-x-4 gap-y-1 border-soft border-b-2">
						<div
							role="radiogroup"
							aria-label="Pieces on this side"
							className="flex max-w-full flex-wrap gap-2 pb-1"
						>
							{[...side.pieces, ...side.failed].map((p) => (
								<button
									key={p.id}
									type="button"
									role="radio"
									aria-checked={p.id === chosenId}
									onClick={() => setPicked(p.id)}
									className={`h-11 max-w-52 truncate rounded px-3 ${
										p.id === chosenId ? "bg-measure font-bold text-white" : "border border-soft bg-paper"
									}`}
								>
									{(p.spec as Schemas["Piece"]).lettering.text}
								</button>
							))}
							<Button onClick={add}>Add lettering</Button>
						</div>
						{(shown || failed) && (
							<Tabs.List aria-label="About this piece" className="flex gap-1">
								{TABS.map(([value, name]) => (
									<Tabs.Trigger
										key={value}
										value={value}
										className="h-11 rounded-t px-4 text-soft data-[state=active]:bg-paper data-[state=active]:font-bold data-[state=active]:text-ink"
									>
										{name}
									</Tabs.Trigger>
								))}
							</Tabs.List>
						)}
					</div>
					<Tabs.Content value="readings" className="pt-2">
						{shown ? <ReadingsCards side={side} piece={shown} dim={dim} /> : null}
					</Tabs.Content>
					<Tabs.Content value="words" className="pt-3">
						<Words
							piece={saved ?? failed}
							unit={side.unit}
							onSave={keep}
							onRemove={(piece) =>
								guard(() => editing.remove({ kind: "piece", id: piece.id, revision: piece.revision }))
							}
						/>
					</Tabs.Content>
					<Tabs.Content value="place" className="pt-3">
						<Place side={side} piece={saved ?? failed} onSave={keep} />
					</Tabs.Content>
					<Tabs.Content value="lands-on" className="pt-3">
						{shown && <LandsOn side={side} piece={shown} />}
					</Tabs.Content>
				</Tabs.Root>
				{wrong && <TroubleNote>{wrong}</TroubleNote>}
			</main>
			<Next side={side} piece={shown} moving={moving !== null} problem={problem} onAdd={add} />
			{dialog}
		</>
	);
}

function Next({
	side,
	piece,
	moving,
	problem,
	onAdd,
}: {
	side: Side;
	piece: Piece | undefined;
	moving: boolean;
	problem: string | undefined;
	onAdd: () => void;
}) {
	if (!piece && !problem) {
		return (
			<NextMove sentence="Nothing is laid out on this side." detail="Add the first line of lettering.">
				<Button look="next" onClick={onAdd}>
					Add lettering
				</Button>
			</NextMove>
		);
	}
	const { readings } = piece ?? {};
	const sentence = moving
		? `${readings?.first_letter.text} back, ${readings?.cap_line.text} down.`
		: (problem ??
			`${readings?.flats.front.wanted.text} at both flats, every rivet head clear of a cut edge.`);
	return (
		<NextMove sentence={sentence} alarm={!moving && problem !== undefined}>
			<Link
				to={`${stagePath(side.job, "hinge")}?side=${side.id}`}
				className="flex min-h-11 items-center rounded bg-tape px-5 font-bold text-ink"
			>
				Hang it
			</Link>
		</NextMove>
	);
}
