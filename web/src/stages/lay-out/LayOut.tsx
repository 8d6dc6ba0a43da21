import { Tabs } from "radix-ui";
import { useState } from "react";
import { Link } from "react-router";
import { type Schemas, Trouble } from "../../api/client";
import type { Editing } from "../../api/queries";
import { isTall } from "../../drawing/frame";
import { SidePicture } from "../../drawing/SidePicture";
import { Chain, DropLine } from "../../drawing/Tape";
import { useSaving } from "../../job/Conflict";
import { stagePath } from "../../job/stages";
import { Button, NextMove, Sheet, TroubleNote } from "../../ui/parts";
import { AddPiece } from "./AddPiece";
import { Checks } from "./Checks";
import { LandsOn } from "./LandsOn";
import { Marking, NextMarking } from "./marking/Marking";
import { MarkRuns } from "./marking/MarkRuns";
import { useMarking, useTryStrips } from "./marking/useMarking";
import { DrawingForm, PanelForm, StripeForm } from "./OtherArt";
import { Place } from "./Place";
import { calledOf, type Editable, FORM_NAMES, firstPiece, type OnSave, type Spec } from "./pieces";
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
	const [readBack, setReadBack] = useState(false);
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
	// A tall side has its readings beside the picture.
	const tall = isTall(side.drawing);
	const editable: Editable | undefined = saved ?? failed;
	const formName = editable ? FORM_NAMES[(editable.spec as Spec).art.is] : "";

	const [asked, setAsked] = useState<{ piece: Editable; sentence: string } | null>(null);
	const guard = async (work: () => Promise<unknown>) => {
		try {
			await work();
			setWrong(null);
		} catch (error) {
			setWrong(error instanceof Trouble ? error.message : String(error));
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
	const addFirst = () =>
		guard(async () => added((await editing.add("piece", side.id, firstPiece("lettering", side))).id));

	// Strips that were moved by hand are kept when they are let go.
	const keepStrips = () => {
		const { view } = marking;
		const own = trying.wanted();
		if (!view?.marking || !own) return;
		const seen = { kind: "marking" as const, id: view.id, revision: view.revision, parent: side.id };
		void guard(() => save(seen, view.marking, { ...view.marking, own }));
	};

	const drawn: Piece[] = side.pieces.map((p) => (moving?.id === p.id ? moving.base : p));
	const problem = wrong ?? motion.wrong ?? failed?.problem.detail ?? shown?.troubles[0];

	return (
		<>
			<main
				className={`grow px-6 pb-3 ${tall ? "grid content-start gap-4 lg:grid-cols-[minmax(0,24rem)_1fr]" : "flex flex-col"}`}
			>
				<SidePicture
					side={side}
					pieces={drawn}
					maxHeight={tall ? 560 : tab === "readings" ? 350 : 300}
					belowMm={tab === "marking" ? (marked?.ground.below_mm ?? 0) : 0}
					label={`${side.name} with its ${tab === "marking" ? "marking" : "lettering"}`}
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
						shift: moving
							? { ids: [moving.id], right: moving.right, down: moving.down }
							: (preview ?? undefined),
					})}
				>
					{(frame) =>
						tab === "marking" ? (
							<MarkRuns
								found={marked}
								frame={frame}
								step={side.unit === "millimetre" ? 1 : 25.4 / 16}
								onMove={readBack ? undefined : trying.attempt}
								onRest={keepStrips}
							/>
						) : (
							shown && (
								<>
									<DropLine
										datum={shown.datum}
										frame={frame}
										flat={shown.readings.flats.front}
										apartFrom={shown.readings.flats.rear}
										dim={dim}
									/>
									<DropLine
										datum={shown.datum}
										frame={frame}
										flat={shown.readings.flats.rear}
										apartFrom={shown.readings.flats.front}
										dim={dim}
									/>
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
				<Tabs.Root value={tab} onValueChange={(t) => setTab(t as Tab)}>
					<div className="flex flex-wrap items-end justify-between gap-x-4 gap-y-1 border-soft border-b-2">
						<div className="flex max-w-full flex-wrap gap-2 pb-1">
							{tab !== "marking" && (
								<div role="radiogroup" aria-label="Pieces on this side" className="contents">
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
											{calledOf(p.spec as Spec)}
										</button>
									))}
								</div>
							)}
							<AddPiece side={side} editing={editing} onAdded={added} guard={guard} />
						</div>
						{
							<Tabs.List aria-label="About this piece" className="flex gap-1">
								{TABS.filter((t) => shown || failed || t === "marking").map((value) => (
									<Tabs.Trigger
										key={value}
										value={value}
										className="h-11 rounded-t px-3 text-soft data-[state=active]:bg-paper data-[state=active]:font-bold data-[state=active]:text-ink"
									>
										{value === "form" ? formName : TAB_NAMES[value]}
									</Tabs.Trigger>
								))}
							</Tabs.List>
						}
					</div>
					<Tabs.Content value="readings" className="pt-2">
						{shown ? <ReadingsCards side={side} piece={shown} dim={dim} /> : null}
					</Tabs.Content>
					<Tabs.Content value="form" className="grid gap-3 pt-3">
						{editable && <Form piece={editable} unit={side.unit} onSave={keep} />}
						{editable && (
							<Button className="justify-self-start" onClick={() => remove(editable)}>
								{formName === "Words and size" ? "Remove this lettering" : "Remove this piece"}
							</Button>
						)}
					</Tabs.Content>
					<Tabs.Content value="place" className="pt-3">
						{editable && <Place side={side} piece={editable} onSave={keep} />}
					</Tabs.Content>
					<Tabs.Content value="lands-on" className="pt-3">
						{shown && <LandsOn side={side} piece={shown} />}
					</Tabs.Content>
					<Tabs.Content value="spots" className="pt-3">
						{saved && (
							<Spots
								side={side}
								piece={saved}
								editing={editing}
								moving={moving ?? undefined}
								onPreview={setPreview}
							/>
						)}
					</Tabs.Content>
					<Tabs.Content value="checks" className="pt-3">
						{shown && <Checks piece={shown} />}
					</Tabs.Content>
					<Tabs.Content value="side" className="pt-3">
						<WholeSide side={side} editing={editing} />
					</Tabs.Content>
					<Tabs.Content value="marking" className="pt-3">
						<Marking
							side={side}
							editing={editing}
							save={save}
							view={marking.view}
							found={marked}
							error={marking.error}
							proving={marking.proving}
							readBack={readBack}
							onReadBack={setReadBack}
						/>
					</Tabs.Content>
				</Tabs.Root>
				{(wrong ?? trying.wrong) && <TroubleNote>{wrong ?? trying.wrong}</TroubleNote>}
			</main>
			{tab === "marking" ? (
				<NextMarking view={marking.view} found={marked} readBack={readBack} />
			) : (
				<Next side={side} piece={shown} moving={moving !== null} problem={problem} onAdd={addFirst} />
			)}
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
			`${readings?.flats.front.wanted.text} at both flats, ${
				piece?.landing.columns.length ? "every rivet head clear of a cut edge" : "nothing in its way"
			}.`);
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
