import { LengthField } from "../../../readings/LengthField";
import { NumberField } from "../../../readings/NumberField";
import { Button, Choice } from "../../../ui/parts";
import type { FaceMarking, Found, ReadStrip, Reflectors, SaveFace, SettleFace, View } from "./types";

type Figure = "from_mm" | "to_mm" | "at_mm" | "down_mm" | "width_mm";
/** What is read by each figure. */
const READS: Record<Figure, keyof NonNullable<ReadStrip["unread"]> | null> = {
	from_mm: "from",
	to_mm: "to",
	at_mm: "at",
	down_mm: "at",
	width_mm: null,
};
const NOTHING = { from: false, to: false, at: false };

/** Strips as the tape measure reads them on the vehicle, each beside where it was planned. */
export function ReadBack({
	found,
	parts,
	marking,
	printed,
	save,
	settle,
}: {
	found: Found | null | undefined;
	parts: View["parts"];
	marking: FaceMarking;
	printed: Record<string, string>;
	save: SaveFace;
	settle: SettleFace;
}) {
	const read = marking.read_back ?? null;
	const put = (read_back: ReadStrip[] | null) => settle({ read_back });
	if (!read) {
		const planned = found?.to_read ?? [];
		return (
			<section aria-label="Read back" className="rounded bg-paper p-4">
				<h3 className="font-bold text-xl">Nothing is read back yet.</h3>
				<p>
					{planned.length > 0
						? `${planned.length} strips are planned. Each is unread until its start, its end and its upper edge are read on the vehicle.`
						: "No strip is planned here: read what is there, strip by strip."}
				</p>
				<Button className="mt-2" onClick={() => put(planned)}>
					{planned.length > 0 ? "Begin with the plan" : "Begin with none"}
				</Button>
			</section>
		);
	}
	const changed = (n: number, part: Partial<ReadStrip>) =>
		read.map((s, m) => (m === n ? { ...s, ...part } : s));
	const field = (n: number, strip: ReadStrip, key: Figure, label: string) => {
		const reads = READS[key];
		const unread = strip.missing || (reads !== null && strip.unread?.[reads] === true);
		return (
			<LengthField
				label={label}
				printed={unread ? "" : printed[`/read_back/${n}/${key}`]}
				onCommit={(typed) =>
					save({
						read_back: changed(n, {
							[key]: typed,
							missing: false,
							...(reads && { unread: { ...NOTHING, ...strip.unread, [reads]: false } }),
						}),
					})
				}
			/>
		);
	};
	/** A strip or a row of reflectors that nobody planned, where the last one ends. */
	const more = (reflectors: ReadStrip["reflectors"] = null): ReadStrip => {
		const last = read.at(-1);
		const level = last && !last.upright ? last : undefined;
		return {
			element: "line",
			from_mm: level?.from_mm ?? 0,
			to_mm: level?.to_mm ?? marking.stock.pattern[0]?.length_mm ?? 304.8,
			at_mm: level?.at_mm ?? 1000,
			down_mm: level?.down_mm ?? Math.max(0, Number(marking.ground_mm) - 1000),
			width_mm: level?.width_mm ?? marking.stock.width_mm,
			begins: marking.stock.pattern[0]?.colour ?? "red",
			upright: false,
			reflectors,
			plan: null,
			unread: { from: true, to: true, at: true },
			missing: false,
		};
	};
	return (
		<section aria-label="Read back" className="rounded bg-paper p-4">
			<div className="mb-2 flex flex-wrap items-center justify-between gap-2">
				<h3 className="font-bold text-xl">{read.length} strips as read on the vehicle</h3>
				<Button onClick={() => put(null)}>Throw the reading away</Button>
			</div>
			<ol>
				{read.map((s, n) => {
					const against = found?.read[n];
					const height: [Figure, string] = s.upright
						? ["at_mm", "edge along the rail"]
						: s.down_mm == null
							? ["at_mm", "middle above ground"]
							: ["down_mm", "upper edge, down"];
					return (
						<li
							key={n}
							aria-label={`Strip ${n + 1}`}
							className="grid grid-cols-2 items-end gap-2 border-line border-t py-2 @md:grid-cols-[2rem_repeat(4,minmax(0,1fr))]"
						>
							<strong className="pb-2 text-right text-xl max-@md:col-span-2 max-sm:text-left">{n + 1}</strong>
							<p className="col-span-2 @md:col-span-4">
								<Against against={against} />
							</p>
							<span className="hidden @md:block" />
							{field(n, s, "from_mm", `Strip ${n + 1}: ${begins(s)}`)}
							{field(n, s, "to_mm", s.reflectors ? "centre of the last" : s.upright ? "upper end" : "ends")}
							{field(n, s, height[0], height[1])}
							{field(n, s, "width_mm", s.reflectors ? "across one" : "width")}
							{s.reflectors && (
								<Row
									row={s.reflectors}
									printedWidest={printed[`/read_back/${n}/reflectors/widest_mm`] ?? ""}
									save={(reflectors) => save({ read_back: changed(n, { reflectors }) })}
									settle={(reflectors) => put(changed(n, { reflectors }))}
								/>
							)}
							<span className="hidden @md:block" />
							<Choice
								label="Part"
								value={s.element ?? "line"}
								options={parts.map((p) => ({ value: p.element, text: p.name }))}
								onChange={(element) => put(changed(n, { element }))}
							/>
							<Choice
								label="Begins with"
								value={s.begins}
								options={(["red", "white", "yellow"] as const).map((c) => ({ value: c, text: c }))}
								onChange={(begins) => put(changed(n, { begins }))}
							/>
							<label className="flex min-h-11 items-center gap-2">
								<input
									type="checkbox"
									className="size-6"
									checked={s.alone ?? false}
									onChange={(e) => put(changed(n, { alone: e.target.checked }))}
								/>
								that colour alone
							</label>
							<span className="flex flex-wrap gap-2 max-@md:col-span-2">
								{against?.unread && s.plan && (
									<Button
										aria-label={`Strip ${n + 1} lies as planned`}
										onClick={() => put(changed(n, { unread: NOTHING, missing: false }))}
									>
										As planned
									</Button>
								)}
								<Button
									aria-label={`Strip ${n + 1} is not there`}
									onClick={() => put(s.plan ? changed(n, { missing: true }) : read.filter((_, m) => m !== n))}
								>
									Not there
								</Button>
							</span>
						</li>
					);
				})}
			</ol>
			<div className="mt-2 flex flex-wrap gap-2">
				<Button onClick={() => put([...read, more()])}>One more strip</Button>
				<Button onClick={() => put([...read, more({ count: 12, of_a_colour: 2 })])}>
					A row of reflectors
				</Button>
			</div>
		</section>
	);
}

const begins = (s: ReadStrip) => (s.reflectors ? "centre of the first" : s.upright ? "lower end" : "begins");

const MARKED = { unknown: "nobody has looked", yes: "on every one", no: "not on every one" };

/** A row of reflex reflectors: how many, how many of a colour beside each other, the widest space, and whose mark they show. */
function Row({
	row,
	printedWidest,
	save,
	settle,
}: {
	row: Reflectors;
	printedWidest: string;
	save: (row: Reflectors) => Promise<unknown>;
	settle: (row: Reflectors) => void;
}) {
	return (
		<>
			<span className="hidden @md:block" />
			<NumberField label="reflectors" value={row.count} onCommit={(count) => save({ ...row, count })} />
			<NumberField
				label="of a colour in a row"
				value={row.of_a_colour}
				onCommit={(of_a_colour) => save({ ...row, of_a_colour })}
			/>
			<LengthField
				label="widest, centre to centre"
				printed={printedWidest}
				onCommit={(widest_mm) => save({ ...row, widest_mm })}
			/>
			<Choice
				label="Marked DOT-C"
				value={row.marked == null ? "unknown" : row.marked ? "yes" : "no"}
				options={(["unknown", "yes", "no"] as const).map((value) => ({ value, text: MARKED[value] }))}
				onChange={(marked) => settle({ ...row, marked: marked === "unknown" ? null : marked === "yes" })}
			/>
		</>
	);
}

/** What is planned of a strip, and what its reading says of it. */
function Against({ against }: { against: Found["read"][number] | undefined }) {
	if (!against) return null;
	const { planned, unread, off } = against;
	if (!planned) {
		const told = off.length > 0 ? "Not in the plan." : "Read without a plan beside it.";
		return (
			<>
				{told} {unread && <b>Not read yet.</b>}
			</>
		);
	}
	return (
		<>
			Planned <b className="font-reading">{planned}</b>. {unread && <b>Not read yet. </b>}
			{off.length > 0 && <b className="text-trouble">! {off.join(" ")}</b>}
			{!unread && off.length === 0 && <b>✓ As planned.</b>}
		</>
	);
}
