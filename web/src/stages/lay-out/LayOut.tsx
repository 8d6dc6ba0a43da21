import { Tabs } from "radix-ui";
import { useState } from "react";
import { Link } from "react-router";
import { type Schemas, Trouble, told } from "../../api/client";
import type { Editing } from "../../api/queries";
import { SidePicture } from "../../drawing/SidePicture";
import { Chain, DropLine } from "../../drawing/Tape";
import { Bench } from "../../job/Bench";
import { useSaving } from "../../job/Conflict";
import { stagePath } from "../../job/stages";
import { atFlats } from "../../readings/flats";
import { Button, NextMove, Sheet, TroubleNote } from "../../ui/parts";
import { AddPiece } from "./AddPiece";
import { Checks } from "./Checks";
import { LandsOn } from "./LandsOn";
import { Marking, NextMarking } from "./marking/Marking";
import { MarkRuns } from "./marking/MarkRuns";
import { Unrolled } from "./marking/Unrolled";
import { useMarking, useTryStrips } from "./marking/useMarking";
import { DrawingForm, PanelForm, StripeForm } from "./OtherArt";
import { PieceFigures } from "./PieceFigures";
import { Place } from "./Place";
import { addFirst, calledOf, type Editable, FORM_NAMES, layerOf, type OnSave, type Spec } from "./pieces";
import { ReadingsCards } from "./ReadingsCards";
import { type Preview, Spots } from "./Spots";
import { useMoving } from "./useMoving";
import { WholeSide } from "./WholeSide";
import { Words } from "./Words";

type Side = Schemas["SideView"];
type Piece = Schemas["PieceView"];

const TABS = ["readings", "form", "place", "lands-on", "spots", "checks", "side", "marking"] as const;
type Tab = (typeof TABS)[number];
const TAB_NAMES: Record<Exclude<Tab, "form">, string> = {
	readings: "Readings",
	place: "Place",
	"lands-on": "Lands on",
	spots: "Better spot",
	checks: "Checks",
	side: "Whole side",
	marking: "Marking",
};

/** Where each piece goes, read off what, how far, and what it lands on. */
export function LayOut({ side, editing }: { side: Side; editing: Editing }) {
	const [picked, setPicked] = useState<string | null>(null);
	const [tab, setTab] = useState<Tab>("readings");
	const [photo, setPhoto] = useState(false);
	const [readBack, setReadBack] = useState(false);
	const [heldStrip, setHeldStrip] = useState<number | null>(null);
	const marking = useMarking(side.id, tab === "marking", readBack);
	const trying = useTryStrips(marking.view, side.id);
	const marked = trying.tried?.found ?? marking.view?.found;
	const [wrong, setWrong] = useState<string | null>(null);
	const [preview, setPreview] = useState<Preview | null>(null);
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
	const edges = shown?.landing.heads_edge_on ?? 0;
	const pickPiece = (id: string) => {
		setPicked(id);
		if (tab === "marking") setTab("readings");
	};
	const editable: Editable | undefined = saved ?? failed;
	const lettered = editable && layerOf(editable.spec as Spec);
	const layer = lettered && (
		<div className="grid justify-items-start gap-3">
			<p className="text-lg">
				A film of its own, laid on the registration marks of its lettering. Words, size, colour and place are
				those of the lettering.
			</p>
			<Button onClick={() => setPicked(lettered)}>Go to the lettering</Button>
		</div>
	);
	const formName = editable ? FORM_NAMES[(editable.spec as Spec).art.is] : "";

	const [asked, setAsked] = useState<{ piece: Editable; sentence: string } | null>(null);
	const guard = async (work: () => Promise<unknown>) => {
		try {
			await work();
			setWrong(null);
		} catch (error) {
			setWrong(told(error));
		}
	};
	const remove = async (piece: Editable, anyway = false) => {
		try {
			await editing.remove({ kind: "piece", id: piece.id, revision: piece.revision }, anyway);
			setAsked(null);
			setWrong(null);
		} catch (error) {
			if (error instanceof Trouble && error.problem.code === "in_use") {
				setAsked({ piece, sentence: error.message });
			} else await guard(() => Promise.reject(error));
		}
	};
	const added = (id: string) => {
		setPicked(id);
		setTab("form");
	};
	const addLettering = () => guard(async () => added((await addFirst(side.id, "lettering", editing)).id));

	// Strips that were moved by hand are kept when they are let go.
	const keepStrips = () => {
		const { view } = marking;
		const own = trying.wanted();
		if (!view?.marking || !own) return;
		const seen = { kind: "marking" as const, id: view.id, revision: view.revision, parent: side.id };
		void guard(() => save(seen, view.marking, { ...view.marking, own }));
	};

	const moveStrips = {
		step: side.unit === "millimetre" ? 1 : 25.4 / 16,
		onHold: setHeldStrip,
		onMove: readBack ? undefined : trying.attempt,
		onRest: keepStrips,
	};
	const drawn: Piece[] = side.pieces.map((p) => (moving?.id === p.id ? moving.base : p));
	// A surface that says no is obeyed here too: nothing that is laid out on it holds.
	const noHold = shown?.stopped?.sentence;
	const problem = wrong ?? motion.wrong ?? failed?.problem.detail ?? noHold ?? shown?.troubles[0];

	// Taken hold of by any of its films, lettering is moved as a whole.
	const lettering = (id: string) => {
		const piece = side.pieces.find((p) => p.id === id);
		const base = piece && layerOf(piece.spec);
		return base ? side.pieces.find((p) => p.id === base) : piece;
	};
	const withLayers = (id: string) => [
		id,
		...side.pieces.filter((p) => layerOf(p.spec) === id).map((p) => p.id),
	];

	const picture = (height: number) => (
		<SidePicture
			side={side}
			pieces={drawn}
			maxHeight={height}
			photo={photo}
			belowMm={tab === "marking" ? (marked?.ground.below_mm ?? 0) : 0}
			figures={
				tab === "marking" || !shown
					? undefined
					: (frame, size) => (
							<PieceFigures side={side} piece={shown} frame={frame} size={size} dim={dim} onKeep={keep} />
						)
			}
			label={`${side.name} with its ${tab === "marking" ? "marking" : "lettering"}`}
			handling={(frame) => ({
				selected: chosenId,
				onSelect: (id) => setPicked(lettering(id)?.id ?? id),
				onPointerDown: (id, event) => {
					const piece = lettering(id);
					if (piece) motion.onPointerDown(piece, event, frame.scale);
				},
				onKeyDown: (id, event) => {
					const piece = lettering(id);
					if (piece && motion.onKey(piece, event.key, event.shiftKey)) event.preventDefault();
				},
				shift: moving
					? { ids: withLayers(moving.id), right: moving.right, down: moving.down }
					: (preview ?? undefined),
			})}
		>
			{(frame) =>
				tab === "marking" ? (
					<MarkRuns found={marked} frame={frame} {...moveStrips} />
				) : (
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
				)
			}
		</SidePicture>
	);
	const pieces = [...side.pieces, ...side.failed];
	const bar =
		tab === "marking" ? (
			<NextMarking view={marking.view} found={marked} readBack={readBack} />
		) : (
			<Next side={side} piece={shown} moving={moving !== null} problem={problem} onAdd={addLettering} />
		);

	return (
		<>
			<Bench drawing={side.drawing} picture={picture} bar={bar}>
				<Tabs.Root value={tab} onValueChange={(t) => setTab(t as Tab)} className="@container">
					<div className="grid gap-x-5 gap-y-2 @4xl:grid-cols-[14.5rem_minmax(0,1fr)]">
						<div className="flex min-w-0 flex-col gap-1.5">
							<PieceList
								pieces={pieces}
								chosen={tab === "marking" ? undefined : chosenId}
								onPick={pickPiece}
							/>
							<div className="flex flex-wrap gap-2">
								<AddPiece side={side} editing={editing} onAdded={added} guard={guard} />
								{side.underlay && (
									<Button onClick={() => setPhoto(!photo)}>
										{photo ? "Without the photo" : "With the photo under it"}
									</Button>
								)}
							</div>
						</div>
						<div className="@container min-w-0">
							<Tabs.List
								aria-label="About this piece"
								className="no-scrollbar flex gap-1 overflow-x-auto border-ink border-b-2"
							>
								{TABS.filter((t) => shown || failed || t === "marking").map((value) => (
									<Tabs.Trigger
										key={value}
										value={value}
										className="h-11 shrink-0 border-b-4 border-b-transparent px-2.5 text-soft data-[state=active]:border-b-measure data-[state=active]:font-bold data-[state=active]:text-ink"
									>
										{value === "form" ? formName : TAB_NAMES[value]}
										{value === "lands-on" && edges > 0 && <span className="text-trouble"> ⊗{edges}</span>}
									</Tabs.Trigger>
								))}
							</Tabs.List>
							<Tabs.Content value="readings" className="pt-2 outline-none">
								{shown ? <ReadingsCards side={side} piece={shown} dim={dim} /> : null}
							</Tabs.Content>
							<Tabs.Content value="form" className="grid gap-3 pt-3">
								{layer ?? (editable && <Form piece={editable} unit={side.unit} onSave={keep} />)}
								{editable && !layer && (
									<Button className="justify-self-start" onClick={() => remove(editable)}>
										{formName === "Words and size" ? "Remove this lettering" : "Remove this piece"}
									</Button>
								)}
							</Tabs.Content>
							<Tabs.Content value="place" className="pt-3 outline-none">
								{layer ?? (editable && <Place side={side} piece={editable} onSave={keep} />)}
							</Tabs.Content>
							<Tabs.Content value="lands-on" className="pt-3 outline-none">
								{shown && <LandsOn side={side} piece={shown} />}
							</Tabs.Content>
							<Tabs.Content value="spots" className="pt-3 outline-none">
								{layer}
								{saved && !layer && (
									<Spots
										side={side}
										piece={saved}
										editing={editing}
										moving={moving ?? undefined}
										onPreview={setPreview}
									/>
								)}
							</Tabs.Content>
							<Tabs.Content value="checks" className="pt-3 outline-none">
								{shown && <Checks piece={shown} />}
							</Tabs.Content>
							<Tabs.Content value="side" className="pt-3 outline-none">
								<WholeSide side={side} editing={editing} />
							</Tabs.Content>
							<Tabs.Content value="marking" className="pt-3 outline-none">
								<Marking
									side={side}
									editing={editing}
									save={save}
									view={marking.view}
									found={marked}
									error={marking.error}
									readBack={readBack}
									onReadBack={setReadBack}
									onHold={setHeldStrip}
									unrolled={
										marked && <Unrolled side={side} found={marked} follow={heldStrip} {...moveStrips} />
									}
								/>
							</Tabs.Content>
							{(wrong ?? trying.wrong) && <TroubleNote>{wrong ?? trying.wrong}</TroubleNote>}
						</div>
					</div>
				</Tabs.Root>
			</Bench>
			<Sheet
				open={asked !== null}
				onOpenChange={(open) => !open && setAsked(null)}
				title="Other pieces hang on it"
			>
				<p className="mb-5 text-lg">{asked?.sentence}</p>
				<div className="flex justify-end gap-3">
					<Button onClick={() => setAsked(null)}>Keep it</Button>
					<Button look="trouble" onClick={() => asked && remove(asked.piece, true)}>
						Remove it all the same
					</Button>
				</div>
			</Sheet>
			{dialog}
		</>
	);
}

/** The pieces of this side in a list, with what is wrong with each. */
function PieceList({
	pieces,
	chosen,
	onPick,
}: {
	pieces: Editable[];
	chosen: string | undefined;
	onPick: (id: string) => void;
}) {
	if (pieces.length === 0) return null;
	return (
		<div
			role="radiogroup"
			aria-label="Pieces on this side"
			className="flex max-h-56 min-w-0 gap-1.5 @4xl:flex-col overflow-auto"
		>
			{pieces.map((p) => {
				const planned = "troubles" in p ? (p as Piece) : undefined;
				const sign = !planned || planned.troubles.length > 0 ? "!" : planned.locked ? "✓" : "";
				return (
					<button
						key={p.id}
						type="button"
						role="radio"
						aria-checked={p.id === chosen}
						onClick={() => onPick(p.id)}
						className={`flex min-h-11 shrink-0 items-center justify-between gap-3 rounded px-3 text-left @max-4xl:max-w-52 ${
							p.id === chosen ? "bg-measure font-bold text-white" : "bg-paper hover:bg-sheet"
						}`}
					>
						<span className="truncate">{calledOf(p.spec as Spec)}</span>
						{sign && (
							<span aria-hidden className={sign === "!" && p.id !== chosen ? "font-bold text-trouble" : ""}>
								{sign}
							</span>
						)}
					</button>
				);
			})}
		</div>
	);
}

/** The form of a piece's own kind. */
function Form({ piece, unit, onSave }: { piece: Editable; unit: Schemas["Unit"]; onSave: OnSave }) {
	const { art } = piece.spec as Spec;
	switch (art.is) {
		case "lettering":
			return <Words piece={piece} art={art} unit={unit} onSave={onSave} />;
		case "stripe":
			return <StripeForm piece={piece} art={art} onSave={onSave} />;
		case "drawing":
			return <DrawingForm piece={piece} art={art} onSave={onSave} />;
		case "panel":
			return <PanelForm piece={piece} art={art} onSave={onSave} />;
	}
}

/** What is in a piece's way where nothing is wrong. */
function wayOf({ landing, worked }: Piece): string {
	const counted = (n: number, one: string, many: string) => `${n} ${n === 1 ? one : many}`;
	if (worked.length > 0) return `${counted(worked.length, "thing", "things")} to work round, under Lands on`;
	const crossed = landing.lines.filter((l) => l.state === "crossed").length + landing.zones.length;
	const lines = crossed > 0 ? `across ${counted(crossed, "line or place", "lines and places")}` : "";
	const heads = landing.columns.length > 0 ? "every rivet head clear of a cut edge" : "";
	return [heads, lines].filter(Boolean).join(", ") || "nothing in its way";
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
		: (problem ?? `${readings ? atFlats(readings.flats) : ""}, ${piece ? wayOf(piece) : ""}.`);
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
