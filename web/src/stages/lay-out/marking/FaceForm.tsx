import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client, type Schemas } from "../../../api/client";
import { once } from "../../../api/once";
import { put } from "../../../readings/bound";
import { type Kept, type Said, Sentence, type Slot } from "../../../readings/Sentence";
import { Button, Choice, Sheet, TroubleNote } from "../../../ui/parts";
import { useShopSend } from "./shop";
import type { Colour, FaceMarking, SaveFace, SettleFace, View } from "./types";

const COLOURS: { value: Colour; text: string }[] = [
	{ value: "red", text: "red" },
	{ value: "white", text: "white" },
	{ value: "yellow", text: "yellow" },
];
const maybe = (typed: string) => (typed.trim() ? typed : null);

/** What is settled about this face: its height above the ground, the tape, how it is laid, what only a rear has. */
export function FaceForm({
	view,
	start,
	save,
	settle,
	tell,
}: {
	view: View;
	/** What a face begins with. */
	start: FaceMarking | null;
	save: SaveFace;
	settle: SettleFace;
	tell: Kept["tell"];
}) {
	const tapes = useQuery({ queryKey: ["tapes"], queryFn: () => ask(client.GET("/api/tapes")) });
	const [shelf, setShelf] = useState(false);
	const marking = view.marking ?? start;
	const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);
	const chosen = tapes.data?.find((t) => same(t.stock, marking?.stock));
	const tractor = view.vehicle?.vehicle.kind === "tractor";
	const rear = view.face === "rear";
	/** What is settled is sent by its first key: what it holds is put into what stands there. */
	const kept: Kept = {
		set: (path, next) => {
			const key = path.split("/")[1] as keyof FaceMarking;
			const changed = put(marking ?? {}, path, next) as Partial<FaceMarking>;
			// Another way of laying makes the strips anew.
			return save({ [key]: changed[key], ...(key === "way" && { own: null }) });
		},
		tell,
	};
	const take = (id: string) => {
		const tape = tapes.data?.find((t) => t.id === id);
		if (tape) settle({ stock: tape.stock, own: null });
	};
	return (
		<section
			aria-label="This face"
			className="grid grid-cols-[minmax(0,1fr)] content-start gap-3 rounded bg-paper p-4 @md:grid-cols-2"
		>
			<h3 className="font-bold text-xl @md:col-span-2">This face</h3>
			<div className="@md:col-span-2">
				<Sentence said={view.said[0] ?? []} kept={kept} label="How it is laid" />
			</div>
			<div className="flex items-end gap-2 @md:col-span-2">
				<div className="min-w-0 grow">
					<Choice
						label="Tape"
						value={chosen?.id ?? ""}
						options={(tapes.data ?? []).map((t) => ({ value: t.id, text: t.name }))}
						onChange={take}
					/>
				</div>
				<Button onClick={() => setShelf(true)}>Shelf</Button>
			</div>
			{view.found && <Compare view={view} chosen={chosen?.id} onTake={(id) => take(id)} />}
			{tapes.data && tapes.data.length === 0 && (
				<p className="@md:col-span-2">No tape is on the shelf yet. Put one there first.</p>
			)}
			{rear && !tractor && view.marking && (
				<Underride said={view.said[1]} marking={view.marking} kept={kept} save={save} settle={settle} />
			)}
			{rear && tractor && view.marking && <Tractor said={view.said[1]} kept={kept} settle={settle} />}
			<Shelf open={shelf} onOpenChange={setShelf} tapes={tapes.data ?? []} />
		</section>
	);
}

/** What each tape of the shelf would give here. */
function Compare({
	view,
	chosen,
	onTake,
}: {
	view: View;
	chosen: string | undefined;
	onTake: (id: string) => void;
}) {
	const [open, setOpen] = useState(false);
	const given = useQuery({
		queryKey: ["marking", "tapes", view.side, view.revision, view.vehicle_revision],
		enabled: open,
		queryFn: ({ signal }) =>
			ask(client.GET("/api/sides/{id}/marking/tapes", { params: { path: { id: view.side } }, signal })),
	});
	return (
		<details className="@md:col-span-2" onToggle={(e) => setOpen(e.currentTarget.open)}>
			<summary className="min-h-11 cursor-pointer py-2 font-bold">
				What each tape of the shelf would give
			</summary>
			{given.isPending && <p role="status">Laying each out…</p>}
			{given.error && <TroubleNote>{given.error.message}</TroubleNote>}
			<ul className="grid gap-2">
				{given.data?.map((t) => (
					<li
						key={t.id}
						className="flex flex-wrap items-center justify-between gap-2 border-line border-t pt-2"
					>
						<span className="min-w-0 grow basis-60">
							<b>{t.name}</b>: {t.keeps ? "" : "! "}
							{t.gives}
						</span>
						{t.id === chosen ? <span>Taken</span> : <Button onClick={() => onTake(t.id)}>Take it</Button>}
					</li>
				))}
			</ul>
		</details>
	);
}

type Part = { said: readonly Said[] | undefined; kept: Kept; settle: SettleFace };

const UNDERRIDE = { from_mm: "2 in", to_mm: "96 in", foot_mm: "20 in", top_mm: "24 in", free_of: [] };

function Underride({ said, marking, kept, save, settle }: Part & { marking: FaceMarking; save: SaveFace }) {
	const u = marking.underride;
	if (!u || !said) {
		return (
			<Button className="@md:col-span-2" onClick={() => settle({ underride: UNDERRIDE })}>
				It has an underride member
			</Button>
		);
	}
	/** One end of its label: the other is where the member ends until it is typed too; without an end there is no label. */
	const label = (end: "from_mm" | "to_mm", name: string): Slot => ({
		label: name,
		without: "(no label)",
		typed: (typed) => {
			const now = u.free_of?.[0] ?? { from_mm: u.from_mm, to_mm: u.to_mm };
			return save({ underride: { ...u, free_of: typed.trim() ? [{ ...now, [end]: typed }] : [] } });
		},
	});
	const slots = (at: string): Slot | undefined => {
		if (at === "/underride/free_of/0/from_mm") return label("from_mm", "Its label begins");
		if (at === "/underride/free_of/0/to_mm") return label("to_mm", "Its label ends");
		return undefined;
	};
	return (
		<div className="grid gap-2 border-line border-t pt-2 @md:col-span-2">
			<Sentence said={said} slots={slots} kept={kept} label="Underride member" />
			<ToMeasure />
			<Button className="justify-self-start" onClick={() => settle({ underride: null, own: null })}>
				It has none
			</Button>
		</div>
	);
}

const TRACTOR: Schemas["TractorRear"] = {
	place: "mudflap",
	zero: { from_mm: "0", to_mm: "24 in" },
	far: { from_mm: "72 in", to_mm: "96 in" },
	foot_mm: "12 in",
	top_mm: "36 in",
};

/** The button that brings a sentence brings usual figures with it. */
const ToMeasure = () => (
	<p className="text-soft">It begins with usual figures: measure each and type it over.</p>
);

function Tractor({ said, kept, settle }: Part) {
	return said ? (
		<div className="border-line border-t pt-2 @md:col-span-2">
			<Sentence said={said} kept={kept} label="Where the two strips can go" />
			<ToMeasure />
		</div>
	) : (
		<Button className="@md:col-span-2" onClick={() => settle({ tractor: TRACTOR })}>
			Say where its two strips can go
		</Button>
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
		first: "",
		pitch: "",
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
						marks:
							tape.first.trim() && tape.pitch.trim() ? { first_mm: tape.first, pitch_mm: tape.pitch } : null,
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
				<label>
					<span className="text-soft">First approval mark, from where the pattern begins</span>
					<input
						className={input}
						value={tape.first}
						onChange={(e) => setTape({ ...tape, first: e.target.value })}
					/>
				</label>
				<label>
					<span className="text-soft">From mark to mark (empty: nobody has looked)</span>
					<input
						className={input}
						value={tape.pitch}
						onChange={(e) => setTape({ ...tape, pitch: e.target.value })}
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
