import { useState } from "react";
import { type Schemas, told } from "../../../api/client";
import { TextField } from "../../../readings/TextField";
import { Button, Choice } from "../../../ui/parts";
import {
	AUDITED,
	type Colour,
	type FaceMarking,
	FIELD,
	type Found,
	type SaveFace,
	type SettleFace,
	SURE,
} from "./types";

const ORDER: Schemas["Audited"][] = ["fail", "reason_needed", "figure_uncertain", "reasoned", "pass", "look"];
const LOOKS: Record<Schemas["Audited"], string> = {
	fail: "border-l-8 border-trouble bg-trouble-soft",
	reason_needed: "border-l-8 border-tape-deep",
	figure_uncertain: "border-l-8 border-soft",
	reasoned: "border-l-8 border-line",
	pass: "border-l-8 border-line",
	look: "border-l-8 border-dashed border-line",
};

/** Clause by clause, the worst first: what it asks, what was measured, what follows; reasons are typed where they are asked for. */
export function Audit({
	found,
	marking,
	save,
	settle,
}: {
	found: Found;
	marking: FaceMarking;
	save: SaveFace;
	settle: SettleFace;
}) {
	const sorted = [...found.audit].sort((a, b) => ORDER.indexOf(a.audited) - ORDER.indexOf(b.audited));
	return (
		<section aria-label="Audit" className="rounded bg-paper p-4">
			<h3 className="font-bold text-xl">Clause by clause. It is no approval.</h3>
			{found.by_name && <p className="text-soft">By: {found.by_name}</p>}
			{found.corrected.map((c) => (
				<p key={c.clause + c.says}>
					The shop uses <b>{c.used}</b> in place of {c.recalled}: {c.says} ({c.clause}).
				</p>
			))}
			<ul className="mt-2 grid gap-2">
				{sorted.map((f) => (
					<li key={f.key} className={`rounded-r px-3 py-1 ${LOOKS[f.audited]}`}>
						<strong>{AUDITED[f.audited]}</strong> {f.asks}{" "}
						<span className="text-soft">
							({f.clause}, {SURE[f.sure]})
						</span>
						<br />
						<b>{f.measured}</b>
						{f.reason && <p>Reason: {f.reason}</p>}
						{(f.audited === "reason_needed" || f.audited === "reasoned") && (
							<TextField
								label="Why it is as close as practicable"
								value={marking.reasons?.[f.key] ?? ""}
								onCommit={(reason) => save({ reasons: { ...marking.reasons, [f.key]: reason } })}
							/>
						)}
					</li>
				))}
			</ul>
			<Readings marking={marking} strips={found.strips.map((s) => s.number)} save={save} settle={settle} />
		</section>
	);
}

const BLANK = {
	strip: "",
	place: "",
	colour: "white" as Colour,
	observation: "fifth",
	entrance: "-4",
	reading: "",
};

/** Readings of a retroreflectometer, judged by the table of the tape's grade. */
function Readings({
	marking,
	strips,
	save,
	settle,
}: {
	marking: FaceMarking;
	/** Numbers of the strips that are audited. */
	strips: number[];
	save: SaveFace;
	settle: SettleFace;
}) {
	const [next, setNext] = useState(BLANK);
	const [wrong, setWrong] = useState<string | null>(null);
	const readings = marking.readings ?? [];
	return (
		<form
			aria-label="Retroreflectometer"
			className="mt-4 grid items-end gap-2 border-line border-t pt-3 @md:grid-cols-3"
			onSubmit={async (e) => {
				e.preventDefault();
				const reading = Number(next.reading);
				if (!next.reading.trim() || !Number.isFinite(reading)) {
					setWrong(`“${next.reading}” is no reading. Type what the meter shows, such as 250.`);
					return;
				}
				try {
					await save({
						readings: [
							...readings,
							{
								place: next.place,
								strip: next.strip ? Number(next.strip) : null,
								colour: next.colour,
								observation: next.observation as Schemas["Observation"],
								entrance: Number(next.entrance),
								reading,
							},
						],
					});
					setNext({ ...BLANK, observation: next.observation, entrance: next.entrance });
					setWrong(null);
				} catch (error) {
					setWrong(told(error));
				}
			}}
		>
			<h4 className="font-bold @md:col-span-3">Retroreflectometer, if there is one</h4>
			<Choice
				label="On strip"
				value={next.strip}
				options={[
					{ value: "", text: "no strip named" },
					...strips.map((n) => ({ value: String(n), text: `strip ${n}` })),
				]}
				onChange={(strip) => setNext({ ...next, strip })}
			/>
			<label>
				<span className="text-soft">Where on it</span>
				<input
					className={FIELD}
					value={next.place}
					onChange={(e) => setNext({ ...next, place: e.target.value })}
				/>
			</label>
			<Choice
				label="Colour"
				value={next.colour}
				options={(["white", "red", "yellow"] as const).map((c) => ({ value: c, text: c }))}
				onChange={(colour) => setNext({ ...next, colour })}
			/>
			<Choice
				label="Observation angle"
				value={next.observation}
				options={[
					{ value: "fifth", text: "0.2°" },
					{ value: "third", text: "0.33°" },
					{ value: "half", text: "0.5°" },
				]}
				onChange={(observation) => setNext({ ...next, observation })}
			/>
			<Choice
				label="Entrance angle"
				value={next.entrance}
				options={["-4", "5", "20", "30", "40", "45", "60"].map((a) => ({ value: a, text: `${a}°` }))}
				onChange={(entrance) => setNext({ ...next, entrance })}
			/>
			<label>
				<span className="text-soft">Reading, cd/lx/m²</span>
				<input
					className={FIELD}
					inputMode="decimal"
					value={next.reading}
					onChange={(e) => setNext({ ...next, reading: e.target.value })}
				/>
			</label>
			<Button type="submit">Add the reading</Button>
			{wrong && (
				<p role="alert" className="text-trouble @md:col-span-3">
					! {wrong}
				</p>
			)}
			{readings.length > 0 && (
				<Button onClick={() => settle({ readings: readings.slice(0, -1) })}>Take the last one away</Button>
			)}
		</form>
	);
}
