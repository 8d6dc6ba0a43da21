import { Tabs } from "radix-ui";
import { memo, useState } from "react";
import { Link } from "react-router";
import { type Schemas, told } from "../../api/client";
import { type Editing, useWalk } from "../../api/queries";
import { useTried } from "../../api/useTrial";
import { type Frame, type Point, px } from "../../drawing/frame";
import { boxesOf, pick } from "../../drawing/pick";
import { Body, FeatureMark, Scene } from "../../drawing/Scene";
import { FrontMark, Tape } from "../../drawing/Tape";
import { Viewport } from "../../drawing/Viewport";
import { Bench } from "../../job/Bench";
import { useSaving } from "../../job/Conflict";
import { Hardware } from "../../job/Hardware";
import { stagePath } from "../../job/stages";
import { put } from "../../readings/bound";
import { Button, NextMove, TroubleNote } from "../../ui/parts";
import { BODIES, labelOf } from "./labels";
import { type Measure, MeasureLines, Measures } from "./Measures";
import { OnIt } from "./OnIt";
import { PhotoUnder } from "./PhotoUnder";
import { QuickWords } from "./QuickWords";
import { Shape } from "./Shape";
import { SurfacePart } from "./SurfacePart";
import { type FeatureTrial, useFeatureMoving } from "./useFeatureMoving";
import { WalkRound } from "./WalkRound";

type Side = Schemas["SideView"];

const TABS = [
	["shape", "Shape"],
	["on-it", "On it"],
	["surface", "Surface"],
	["walk", "Walk round"],
	["hardware", "Hardware"],
	["photo", "Photo"],
] as const;
type Tab = (typeof TABS)[number][0];

/** What is it, how big, what is in the way, what was damaged before: the side from its measurements, as they are typed. */
export function LookOver({
	job,
	side,
	editing,
	onGone,
}: {
	job: string;
	side: Side;
	editing: Editing;
	onGone: () => void;
}) {
	const [tab, setTab] = useState<Tab>(side.features.length > 0 ? "on-it" : "shape");
	const [chosen, setChosen] = useState<string | null>(null);
	const [preview, setPreview] = useState<Schemas["SideDrawing"] | null>(null);
	/** A place tapped in the picture while something wants one. */
	const [place, setPlace] = useState<Point | null>(null);
	const [wrong, setWrong] = useState<string | null>(null);
	const [middle, setMiddle] = useState<Point | null>(null);
	const { save, dialog } = useSaving(editing, side.unit);
	const walk = useWalk(job);

	const saveSide = (spec: unknown) =>
		save({ kind: "side", id: side.id, revision: side.revision }, side.spec, spec);
	const saveFeature = (feature: Schemas["FeatureView"], spec: unknown) =>
		save({ kind: "feature", id: feature.id, revision: feature.revision }, feature.spec, spec);
	const guard = async (work: () => Promise<unknown>) => {
		try {
			await work();
			setWrong(null);
		} catch (error) {
			setWrong(told(error));
		}
	};

	const motion = useFeatureMoving(side, saveFeature);
	const feature = side.features.find((f) => f.id === chosen);
	const walked = walk.data?.sides.find((s) => s.side === side.id);
	const order = side.features.map((f) => f.id);
	const step = (by: number) => {
		if (order.length === 0) return;
		const at = chosen ? order.indexOf(chosen) : by > 0 ? -1 : 0;
		setChosen(order[(at + by + order.length) % order.length] ?? null);
		setTab("on-it");
	};
	const drawing = preview ?? side.drawing;
	const change = (path: string, text: string) => saveSide(put(side.spec, path, text));
	const unmeasured = side.spec.unmeasured ?? [];
	const confirm = () => guard(() => saveSide({ ...side.spec, unmeasured: [] }));
	const labels = new Map<string, string>(
		BODIES[side.spec.body.shape].fields.map(([at, label]) => [`/body${at}`, label]),
	);
	const measures: Measure[] =
		preview || tab === "walk" || tab === "photo"
			? []
			: feature
				? feature.dimensions.map((dimension) => ({
						dimension,
						label: labelOf(feature, dimension.at),
						text: feature.printed[dimension.at] ?? "",
						onCommit: (text) => saveFeature(feature, put(feature.spec, dimension.at, text)),
					}))
				: side.dimensions.map((dimension) => ({
						dimension,
						label: labels.get(dimension.at) ?? dimension.at,
						text: side.printed[dimension.at] ?? "",
						unmeasured: unmeasured.includes(dimension.at),
						onCommit: (text) => change(dimension.at, text),
					}));

	const picture = (height: number) => (
		<Viewport
			drawing={drawing}
			height={height}
			label={`${side.name}, ${side.size[0]} ${along(side)}, ${side.size[1]} high. Comma and full stop step through what is on it, arrow keys move the chosen one, plus and minus bring it nearer.`}
			resetKey={`${side.id} ${preview ? "preview" : ""}`}
			onTap={(at, reach) => {
				setMiddle(at);
				if (tab === "walk" || tab === "photo") {
					setPlace(at);
					return;
				}
				const found = pick(side.drawing, at, reach);
				setChosen(found ?? null);
				if (found) setTab("on-it");
			}}
			onGrab={(at, reach) => {
				if (!feature || preview || tab === "walk" || tab === "photo") return undefined;
				return pick(side.drawing, at, reach) === feature.id ? motion.grab(feature) : undefined;
			}}
			onKey={(e) => {
				if (e.key === "." || e.key === ",") step(e.key === "." ? 1 : -1);
				else if (e.key === "Enter" && feature) setTab("on-it");
				else if (e.key === "Escape" && !motion.trial.get()) setChosen(null);
				else if (feature && (e.key === "Delete" || e.key === "Backspace")) {
					guard(() => editing.remove({ kind: "feature", id: feature.id, revision: feature.revision }));
				} else return feature ? motion.onKey(feature, e.key, e.shiftKey) : false;
				return true;
			}}
			figures={(frame, size) =>
				motion.trial.get() ? null : (
					<Measures
						measures={measures}
						frame={frame}
						bounds={drawing.bounds}
						of={
							feature
								? boxesOf(drawing)
										.filter((b) => b.feature === feature.id)
										.map((b) => b.box)
								: []
						}
						{...size}
					/>
				)
			}
			overlay={(frame) => (
				<>
					<MeasureLines measures={measures} frame={frame} bounds={drawing.bounds} />
					<Over
						frame={frame}
						side={side}
						chosen={preview ? null : chosen}
						moving={motion.trial}
						damage={tab === "walk" || tab === "photo" ? (walked?.damage ?? []) : []}
						place={tab === "walk" ? place : null}
					/>
				</>
			)}
		>
			{(frame) => (
				<>
					<Scene
						drawing={drawing}
						pieces={preview ? [] : side.pieces}
						frame={frame}
						ghost
						under={preview ? null : side.underlay}
					/>
					<Tape drawing={drawing} frame={frame} unit={side.unit} />
					<FrontMark drawing={drawing} frame={frame} />
				</>
			)}
		</Viewport>
	);

	const parts = (
		<Tabs.Root value={tab} onValueChange={(t) => setTab(t as Tab)} className="@container min-w-0">
			<Tabs.List
				aria-label="What is looked over"
				className="no-scrollbar flex gap-1 overflow-x-auto border-ink border-b-2"
			>
				{TABS.map(([value, name]) => (
					<Tabs.Trigger
						key={value}
						value={value}
						className="h-11 shrink-0 border-b-4 border-b-transparent px-2.5 text-soft data-[state=active]:border-b-measure data-[state=active]:font-bold data-[state=active]:text-ink"
					>
						{value === "on-it" && side.features.length > 0
							? `${name} (${side.features.length})`
							: value === "walk" && walked && walked.damage.length > 0
								? `${name} (${walked.damage.length})`
								: name}
					</Tabs.Trigger>
				))}
			</Tabs.List>
			{(wrong ?? motion.wrong) && <TroubleNote>{wrong ?? motion.wrong}</TroubleNote>}
			<Tabs.Content value="shape" className="pt-3">
				<Shape
					side={side}
					editing={editing}
					onSave={saveSide}
					onPreview={setPreview}
					onGone={onGone}
					guard={guard}
				/>
			</Tabs.Content>
			<Tabs.Content value="on-it" className="flex flex-col gap-3 pt-3">
				<QuickWords
					side={side}
					onPreview={setPreview}
					onAdd={async (spec) => {
						const row = await editing.add("feature", side.id, spec);
						setChosen(row.id);
					}}
				/>
				<OnIt
					side={side}
					editing={editing}
					chosen={chosen}
					onChoose={setChosen}
					onSave={saveFeature}
					middle={middle}
					guard={guard}
				/>
			</Tabs.Content>
			<Tabs.Content value="surface" className="pt-3">
				<SurfacePart side={side} onSave={saveSide} />
			</Tabs.Content>
			<Tabs.Content value="walk" className="pt-3">
				<WalkRound job={job} side={side} walk={walk.data} place={place} onPlaced={() => setPlace(null)} />
			</Tabs.Content>
			<Tabs.Content value="hardware" className="pt-3">
				<Hardware job={job} lines={walked?.hardware ?? []} />
			</Tabs.Content>
			<Tabs.Content value="photo" className="pt-3">
				<PhotoUnder job={job} side={side} onSave={saveSide} />
			</Tabs.Content>
		</Tabs.Root>
	);

	return (
		<>
			<Bench
				drawing={drawing}
				picture={picture}
				bar={
					<Next
						job={job}
						side={side}
						moving={motion.trial}
						signed={walk.data}
						tab={tab}
						onConfirm={confirm}
					/>
				}
			>
				{parts}
			</Bench>
			{dialog}
		</>
	);
}

/** Whether the tape runs along the vehicle or across it. */
const along = (side: Side) => (side.spec.front === "left" || side.spec.front === "right" ? "long" : "wide");

/** What is chosen, moved or found, on a layer over the picture. */
function Over({
	frame,
	side,
	chosen,
	moving: store,
	damage,
	place,
}: {
	frame: Frame;
	side: Side;
	chosen: string | null;
	moving: FeatureTrial;
	damage: Schemas["DamageView"][];
	place: Point | null;
}) {
	const moving = useTried(store);
	const least = 1.1 / frame.scale;
	return (
		<>
			<g transform={`scale(${frame.scale}) translate(${-frame.x} ${-frame.y})`}>
				{/* Where its new readings have it, as the server last answered; the mark follows the pointer. */}
				{moving?.answer && <Landed drawing={moving.answer.drawing} least={least} />}
				{chosen && (
					<g
						data-testid="chosen"
						transform={moving ? `translate(${moving.wish.right} ${moving.wish.down})` : undefined}
					>
						<FeatureMark drawing={side.drawing} feature={chosen} least={least} />
					</g>
				)}
			</g>
			{damage.map((d) => {
				const [x, y] = px(frame, d.at);
				return (
					<g key={d.entry}>
						<path
							d={`M${x} ${y - 17}L${x + 15} ${y + 10}H${x - 15}Z`}
							fill="var(--color-paper)"
							stroke="var(--color-trouble)"
							strokeWidth={3}
							strokeLinejoin="round"
						/>
						<text
							x={x}
							y={y + 6}
							textAnchor="middle"
							fontSize={16}
							fontWeight={700}
							fill="var(--color-trouble)"
						>
							{d.number}
						</text>
					</g>
				);
			})}
			{place && <Cross at={px(frame, place)} />}
		</>
	);
}

const Landed = memo(function Landed({ drawing, least }: { drawing: Schemas["SideDrawing"]; least: number }) {
	return <Body drawing={{ ...drawing, outline: "" }} least={least} />;
});

function Cross({ at: [x, y] }: { at: Point }) {
	const d = `M${x - 16} ${y}H${x + 16}M${x} ${y - 16}V${y + 16}`;
	return (
		<g fill="none">
			<path d={d} stroke="var(--color-paper)" strokeWidth={6} />
			<path d={d} stroke="var(--color-measure)" strokeWidth={2.5} />
		</g>
	);
}

function Next({
	job,
	side,
	moving: store,
	signed,
	tab,
	onConfirm,
}: {
	job: string;
	side: Side;
	moving: FeatureTrial;
	signed: Schemas["WalkRoundView"] | undefined;
	tab: Tab;
	onConfirm: () => void;
}) {
	const moving = useTried(store);
	const layOut = (
		<Link
			to={`${stagePath(job, "lay_out")}?side=${side.id}`}
			className="flex min-h-11 items-center rounded bg-tape px-5 font-bold text-ink"
		>
			Lay out
		</Link>
	);
	if (moving) {
		const { back, drop, lined_up } = moving.answer?.moved ?? {};
		return (
			<NextMove
				sentence={
					[back && `${back.text} back`, drop && `${drop.text} down`].filter(Boolean).join(", ") || "Moving."
				}
				detail={lined_up?.join(" ")}
			/>
		);
	}
	if (side.surface.film === "no") {
		return (
			<NextMove sentence={side.surface.film_sentences[0] ?? ""} alarm>
				{layOut}
			</NextMove>
		);
	}
	if (tab === "walk" && signed && !signed.signed) {
		return (
			<NextMove
				sentence="Walk round once with the customer."
				detail="Tap what you find in the picture; have it signed at the end. Chock the vehicle, take the key."
			/>
		);
	}
	if (signed?.signed && signed.signed.changed_since > 0) {
		return (
			<NextMove sentence="Findings changed since the customer signed." detail="Have them signed again." alarm>
				{layOut}
			</NextMove>
		);
	}
	const unmeasured = side.spec.unmeasured?.length ?? 0;
	if (unmeasured > 0) {
		return (
			<NextMove
				sentence={`${unmeasured} of ${side.dimensions.length} figures are not measured yet.`}
				detail="Touch each in the picture and type what the tape says."
			>
				<Button look="dark" className="min-h-11" onClick={onConfirm}>
					They are right as they stand
				</Button>
				{layOut}
			</NextMove>
		);
	}
	const things = side.features.length === 1 ? "1 thing" : `${side.features.length} things`;
	return (
		<NextMove
			sentence={
				side.features.length === 0
					? "Measure what is on it: seams, rivets, doors, lamps."
					: `${side.size[0]} ${along(side)}, ${side.size[1]} ${side.spec.facing === "up" ? "deep" : "high"}, ${things} measured.`
			}
			detail={side.features.length === 0 ? undefined : "Check them against the tape, then lay out."}
		>
			{layOut}
		</NextMove>
	);
}
