import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client, type Schemas } from "../../../api/client";
import { once } from "../../../api/once";
import { bind } from "../../../readings/bound";
import { LengthField } from "../../../readings/LengthField";
import { Button, Choice, Sheet, TroubleNote } from "../../../ui/parts";
import { useShopSend } from "./shop";
import { type Colour, type FaceMarking, partName, type SaveFace, type SettleFace, type View } from "./types";

const COLOURS: { value: Colour; text: string }[] = [
	{ value: "red", text: "red" },
	{ value: "white", text: "white" },
	{ value: "yellow", text: "yellow" },
];
const maybe = (typed: string) => (typed.trim() ? typed : null);

/** What is settled about this face: its height above the ground, the tape, how it is laid, what only a rear has. */
export function FaceForm({
	side,
	view,
	start,
	save,
	settle,
}: {
	side: Schemas["SideView"];
	view: View;
	/** What a face begins with. */
	start: FaceMarking | null;
	save: SaveFace;
	settle: SettleFace;
}) {
	const tapes = useQuery({ queryKey: ["tapes"], queryFn: () => ask(client.GET("/api/tapes")) });
	const [shelf, setShelf] = useState(false);
	const marking = view.marking ?? start;
	const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);
	const chosen = tapes.data?.find((t) => same(t.stock, marking?.stock));
	const tractor = view.vehicle?.vehicle.kind === "tractor";
	const rear = view.face === "rear";
	return (
		<section aria-label="This face" className="grid content-start gap-3 rounded bg-paper p-4 @md:grid-cols-2">
			<h3 className="font-bold text-xl @md:col-span-2">This face</h3>
			<LengthField
				label={`${side.spec.rail ?? "Rail"} above the ground, at curb weight`}
				printed={view.printed["/ground_mm"]}
				onCommit={(typed) => save({ ground_mm: typed })}
			/>
			<div className="flex items-end gap-2 @md:col-span-2">
				<div className="min-w-0 grow">
					<Choice
						label="Tape"
						value={chosen?.id ?? ""}
						options={(tapes.data ?? []).map((t) => ({ value: t.id, text: t.name }))}
						onChange={(id) => {
							const tape = tapes.data?.find((t) => t.id === id);
							if (tape) settle({ stock: tape.stock, own: null });
						}}
					/>
				</div>
				<Button onClick={() => setShelf(true)}>Shelf</Button>
			</div>
			{tapes.data && tapes.data.length === 0 && (
				<p className="@md:col-span-2">No tape is on the shelf yet. Put one there first.</p>
			)}
			{!rear && view.vehicle?.set !== "unece" && (
				<>
					<Choice
						label="Laid"
						value={marking?.way ?? "spaced"}
						options={[
							{ value: "spaced", text: "at intervals" },
							{ value: "continuous", text: "wherever there is room" },
						]}
						onChange={(way) => settle({ way, own: null })}
					/>
					<LengthField
						label="Largest gap wanted"
						printed={view.printed["/gap_limit_mm"]}
						hint="Our own limit: no rule gives one"
						onCommit={(typed) => save({ gap_limit_mm: maybe(typed) })}
					/>
				</>
			)}
			{rear && !tractor && view.marking && (
				<Underride view={view} marking={view.marking} save={save} settle={settle} />
			)}
			{rear && tractor && view.marking && (
				<Tractor view={view} marking={view.marking} save={save} settle={settle} />
			)}
			<Shelf open={shelf} onOpenChange={setShelf} tapes={tapes.data ?? []} />
		</section>
	);
}

type Part = { view: View; marking: FaceMarking; save: SaveFace; settle: SettleFace };

function Underride({ view, marking, save, settle }: Part) {
	const u = marking.underride;
	if (!u) {
		return (
			<Button
				className="@md:col-span-2"
				onClick={() =>
					settle({
						underride: {
							from_mm: "2 in",
							to_mm: "96 in",
							foot_mm: "20 in",
							top_mm: "24 in",
							free_of: [],
						},
					})
				}
			>
				It has an underride member
			</Button>
		);
	}
	const fields = bind<FaceMarking>(marking, view.printed, save);
	const free = u.free_of?.[0];
	return (
		<fieldset className="grid gap-3 border-line border-t pt-2 @md:col-span-2 @md:grid-cols-2">
			<legend className="font-bold">Underride member</legend>
			{fields.length("/underride/from_mm", "Begins along the rear")}
			{fields.length("/underride/to_mm", "Ends")}
			{fields.length("/underride/foot_mm", "Lower edge above the ground")}
			{fields.length("/underride/top_mm", "Upper edge above the ground")}
			{(["from_mm", "to_mm"] as const).map((key) => (
				<LengthField
					key={key}
					label={key === "from_mm" ? "Its label begins" : "Its label ends"}
					printed={view.printed[`/underride/free_of/0/${key}`]}
					hint="Stays readable"
					onCommit={(typed) =>
						save({
							underride: {
								...u,
								free_of: typed.trim()
									? [
											key === "from_mm"
												? { from_mm: typed, to_mm: free?.to_mm ?? u.to_mm }
												: { from_mm: free?.from_mm ?? u.from_mm, to_mm: typed },
										]
									: [],
							},
						})
					}
				/>
			))}
			<Button onClick={() => settle({ underride: null, own: null })}>It has none</Button>
		</fieldset>
	);
}

function Tractor({ view, marking, save, settle }: Part) {
	const t: Schemas["TractorRear"] = marking.tractor ?? {
		place: "mudflap",
		zero: { from_mm: "0", to_mm: "24 in" },
		far: { from_mm: "72 in", to_mm: "96 in" },
		foot_mm: "12 in",
		top_mm: "36 in",
	};
	const fields = bind<FaceMarking>({ ...marking, tractor: t }, view.printed, save);
	return (
		<fieldset className="grid gap-3 border-line border-t pt-2 @md:col-span-2 @md:grid-cols-2">
			<legend className="font-bold">Where the two strips can go</legend>
			<Choice
				label="On"
				value={t.place}
				options={[
					{ value: "fender", text: "the rear fenders" },
					{ value: "mudflap", text: "the mudflaps" },
					{ value: "bracket", text: "the mudflaps' brackets" },
					{ value: "cab", text: "the back of the cab" },
				]}
				onChange={(place) => settle({ tractor: { ...t, place } })}
			/>
			<span />
			{fields.length("/tractor/zero/from_mm", `${partName(view, "tractor_zero")}: begins`)}
			{fields.length("/tractor/zero/to_mm", `${partName(view, "tractor_zero")}: ends`)}
			{fields.length("/tractor/far/from_mm", `${partName(view, "tractor_far")}: begins`)}
			{fields.length("/tractor/far/to_mm", `${partName(view, "tractor_far")}: ends`)}
			{fields.length("/tractor/foot_mm", "Lower edge above the ground")}
			{fields.length("/tractor/top_mm", "Upper edge above the ground")}
			{t.place === "mudflap" &&
				fields.lengthOrNone("/tractor/bracket_mm", "Bracket's lower edge above the ground")}
			{(t.place === "cab" || t.place === "bracket") &&
				fields.lengthOrNone("/tractor/tyre_mm", "Tyres' tops above the ground")}
		</fieldset>
	);
}

/** Tape on the shelf: what there is, one more, one fewer. */
function Shelf({
	open,
	onOpenChange,
	tapes,
}: {
	open: boolean;
	onOpenChange: (open: boolean) => void;
	tapes: Schemas["TapeView"][];
}) {
	const blank = {
		name: "",
		grade: "C2",
		width: "2 in",
		pre: "",
		runs: [
			{ colour: "red" as Colour, length: "12 in" },
			{ colour: "white" as Colour, length: "12 in" },
		],
	};
	const [tape, setTape] = useState(blank);
	const { wrong, send } = useShopSend("tapes");
	const input = "h-11 w-full rounded border border-soft bg-sheet px-3";
	return (
		<Sheet open={open} onOpenChange={onOpenChange} title="Reflective tape on the shelf" wide>
			<ul className="mb-4">
				{tapes.map((t) => (
					<li key={t.id} className="flex items-center justify-between gap-3 border-line border-t py-1">
						{t.name}
						<Button
							onClick={() =>
								void send(ask(client.DELETE("/api/tapes/{id}", { params: { path: { id: t.id } } })))
							}
						>
							Take off
						</Button>
					</li>
				))}
			</ul>
			<form
				aria-label="One more tape"
				className="grid gap-3 rounded bg-paper p-4 @md:grid-cols-2"
				onSubmit={async (e) => {
					e.preventDefault();
					const stock = {
						grade: tape.grade,
						width_mm: tape.width,
						pattern: tape.runs.map((r) => ({ colour: r.colour, length_mm: r.length })),
						pre_cut_mm: maybe(tape.pre),
					};
					const done = await send(
						once(JSON.stringify(["tape", tape]), ({ id }) =>
							ask(client.POST("/api/tapes", { body: { id, name: tape.name, stock } })),
						),
					);
					if (done) setTape(blank);
				}}
			>
				<label>
					<span className="text-soft">What it is called</span>
					<input
						className={input}
						value={tape.name}
						onChange={(e) => setTape({ ...tape, name: e.target.value })}
					/>
				</label>
				<Choice
					label="Grade"
					value={tape.grade}
					options={["C2", "C3", "C4", "C", "engineer", "other"].map((g) => ({ value: g, text: g }))}
					onChange={(grade) => setTape({ ...tape, grade })}
				/>
				<label>
					<span className="text-soft">Width</span>
					<input
						className={input}
						value={tape.width}
						onChange={(e) => setTape({ ...tape, width: e.target.value })}
					/>
				</label>
				<label>
					<span className="text-soft">Comes in strips of (empty: a roll)</span>
					<input
						className={input}
						value={tape.pre}
						onChange={(e) => setTape({ ...tape, pre: e.target.value })}
					/>
				</label>
				{tape.runs.map((r, n) => (
					<div key={n} className="grid grid-cols-[1fr_1fr] gap-2 @md:col-span-2">
						<Choice
							label={`Colour ${n + 1}`}
							value={r.colour}
							options={COLOURS}
							onChange={(colour) =>
								setTape({ ...tape, runs: tape.runs.map((o, m) => (m === n ? { ...o, colour } : o)) })
							}
						/>
						<label>
							<span className="text-soft">Length {n + 1}</span>
							<input
								className={input}
								value={r.length}
								onChange={(e) =>
									setTape({
										...tape,
										runs: tape.runs.map((o, m) => (m === n ? { ...o, length: e.target.value } : o)),
									})
								}
							/>
						</label>
					</div>
				))}
				<Button
					onClick={() => setTape({ ...tape, runs: [...tape.runs, { colour: "white", length: "12 in" }] })}
				>
					One more colour
				</Button>
				<Button
					disabled={tape.runs.length < 2}
					onClick={() => setTape({ ...tape, runs: tape.runs.slice(0, -1) })}
				>
					One colour fewer
				</Button>
				{wrong && (
					<div className="@md:col-span-2">
						<TroubleNote>{wrong}</TroubleNote>
					</div>
				)}
				<Button look="next" type="submit" className="@md:col-span-2">
					Put it on the shelf
				</Button>
			</form>
		</Sheet>
	);
}
