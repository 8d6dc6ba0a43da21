import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { ask, client, type Schemas, Trouble } from "../../api/client";
import { type Frame, type Point, px } from "../../drawing/frame";
import { Button, Choice, NextMove, TroubleNote } from "../../ui/parts";

type Ask = Schemas["MarkingAsk"];
type View = Schemas["MarkingView"];
type Strip = Schemas["Strip"];

const INK: Record<Schemas["TapeColour"], string> = { red: "#b3140d", white: "#ffffff", yellow: "#e0b400" };
const WORDS: Record<Schemas["Audited"], string> = {
	pass: "✓ kept",
	fail: "✗ not kept",
	reason_needed: "~ reason needed",
	figure_uncertain: "? figure uncertain",
};
const ANSWER: Record<Schemas["Required"], string> = {
	yes: "Marking is required.",
	no: "Marking is not required.",
	cannot_tell: "Cannot tell whether marking is required.",
	prohibited: "Marking is prohibited.",
};

/** Tapes to choose from: lay-ups are the trade's custom. */
const STOCKS: [string, Ask["stock"]][] = [
	["C2, 2 in, 12 red 12 white", stock("C2", "2 in", ["red", "12 in"], ["white", "12 in"])],
	["C2, 2 in, 6 red 6 white", stock("C2", "2 in", ["red", "6 in"], ["white", "6 in"])],
	["C2, 2 in, 7 red 11 white", stock("C2", "2 in", ["red", "7 in"], ["white", "11 in"])],
	["C, 50 mm, white", stock("C", "50 mm", ["white", "500 mm"])],
	["C, 50 mm, yellow", stock("C", "50 mm", ["yellow", "500 mm"])],
];

function stock(grade: string, width: string, ...runs: [Schemas["TapeColour"], string][]): Ask["stock"] {
	return { grade, width_mm: width, pattern: runs.map(([colour, length_mm]) => ({ colour, length_mm })) };
}

const FIELD = "h-11 w-full rounded border border-soft bg-white px-3";

/** Reflective marking of the side: whether it is required, the best layout, every clause of the rule; strips changed by hand are audited at once. */
export function Marking({
	side,
	onView,
}: {
	side: Schemas["SideView"];
	/** Told what was found, for the picture and the next move. */
	onView: (view: View) => void;
}) {
	const rules = useQuery({
		queryKey: ["rules"],
		queryFn: () => ask(client.GET("/api/rules")),
		staleTime: Number.POSITIVE_INFINITY,
	});
	const [what, setWhat] = useState({
		set: "united_states_new" as Schemas["RuleSet"],
		kind: "trailer" as Schemas["MarkedKind"],
		category: "" as string,
		width: "",
		length: "",
		mass: "",
		built: "",
		ground: "",
		stock: "0",
		way: "spaced" as Schemas["WayOfLaying"],
		limit: "",
	});
	const [own, setOwn] = useState<Strip[] | null>(null);
	const [view, setView] = useState<View | null>(null);
	const [wrong, setWrong] = useState<string | null>(null);
	const change = (part: Partial<typeof what>) => {
		setOwn(null);
		setWhat({ ...what, ...part });
	};
	useEffect(() => {
		if (!what.ground.trim()) return;
		const mass = Number(what.mass);
		if (!(Number.isFinite(mass) && mass >= 0)) {
			setWrong(`“${what.mass}” is no weight. Type kilograms, such as 15000, or leave it empty.`);
			return;
		}
		const body = {
			set: what.set,
			vehicle: {
				kind: what.kind,
				category: what.category || null,
				width_mm: what.width.trim() || null,
				length_mm: what.length.trim() || null,
				mass_kg: what.mass.trim() ? mass : null,
				built: what.built || null,
			},
			ground_mm: what.ground,
			stock: STOCKS[Number(what.stock)]?.[1],
			way: what.way,
			gap_limit_mm: what.limit.trim() || null,
			strips: own,
		} as Ask;
		// The newest question wins; a moment's rest before it is asked.
		let stale = false;
		const timer = setTimeout(async () => {
			try {
				const answer = await ask(
					client.POST("/api/sides/{id}/marking", { params: { path: { id: side.id } }, body }),
				);
				if (stale) return;
				setView(answer);
				onView(answer);
				setWrong(null);
			} catch (error) {
				if (!stale) setWrong(error instanceof Trouble ? error.message : String(error));
			}
		}, 300);
		return () => {
			stale = true;
			clearTimeout(timer);
		};
	}, [what, own, side.id, onView]);
	const strips = view?.strips ?? [];
	const asOwn = () => own ?? strips.map((s) => s.strip);
	const edit = (n: number, part: Partial<Strip>) =>
		setOwn(asOwn().map((s, m) => (m === n ? { ...s, ...part } : s)));
	const text = (
		label: string,
		key: "width" | "length" | "mass" | "ground" | "limit" | "built",
		type = "text",
	) => (
		<label className="flex flex-col gap-1">
			<span className="text-soft">{label}</span>
			<input
				className={FIELD}
				type={type}
				value={what[key]}
				onChange={(e) => change({ [key]: e.target.value })}
			/>
		</label>
	);
	return (
		<div className="grid gap-4">
			<form
				aria-label="What is marked"
				className="grid gap-3 rounded bg-paper p-4 sm:grid-cols-2 lg:grid-cols-4"
				onSubmit={(e) => e.preventDefault()}
			>
				<Choice
					label="Rules"
					value={what.set}
					options={(rules.data ?? []).map((r) => ({ value: r.set, text: r.name.split(" (")[0] ?? r.name }))}
					onChange={(set) => change({ set, stock: set === "unece" ? "3" : "0" })}
				/>
				<Choice
					label="Vehicle"
					value={what.kind}
					options={[
						{ value: "trailer", text: "trailer" },
						{ value: "tractor", text: "truck tractor" },
						{ value: "truck", text: "truck" },
						{ value: "bus", text: "bus" },
						{ value: "boat_trailer", text: "boat's trailer" },
						{ value: "equipment", text: "equipment" },
					]}
					onChange={(kind) => change({ kind })}
				/>
				{what.set === "unece" && (
					<Choice
						label="Category"
						value={what.category || "?"}
						options={["?", "M1", "M2", "M3", "N1", "N2", "N3", "O1", "O2", "O3", "O4"].map((c) => ({
							value: c,
							text: c === "?" ? "not known" : c,
						}))}
						onChange={(c) => change({ category: c === "?" ? "" : c })}
					/>
				)}
				{text("Overall width", "width")}
				{what.set === "unece" && text("Overall length", "length")}
				{text("Weight rating, kg", "mass")}
				{text("Built", "built", "date")}
				{text(`${side.spec.rail ?? "Rail"} above the ground, at curb weight`, "ground")}
				<Choice
					label="Tape"
					value={what.stock}
					options={STOCKS.map(([name], n) => ({ value: String(n), text: name }))}
					onChange={(s) => change({ stock: s })}
				/>
				<Choice
					label="Laid"
					value={what.way}
					options={[
						{ value: "spaced", text: "at intervals" },
						{ value: "continuous", text: "wherever there is room" },
					]}
					onChange={(way) => change({ way })}
				/>
				{text("Largest gap wanted (our own)", "limit")}
			</form>
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
			{!what.ground.trim() && (
				<p role="status">Measure from the rail to the ground first, and type it above.</p>
			)}
			{view && (
				<>
					<section aria-label="Whether it is required" className="rounded bg-paper p-4">
						<h3 className="font-bold text-xl">{ANSWER[view.applies.required]}</h3>
						<ul>
							{view.applies.reasons.map((r) => (
								<li key={r}>{r}</li>
							))}
							{view.voluntary.map((v) => (
								<li key={v}>Voluntary: {v}</li>
							))}
						</ul>
						<p className="mt-1 text-soft">{view.from_memory}</p>
					</section>
					{view.refused && <TroubleNote>{view.refused}</TroubleNote>}
					<div className="grid gap-4 xl:grid-cols-2">
						<section aria-label="Strips" className="rounded bg-paper p-4">
							<div className="flex items-center justify-between">
								<h3 className="font-bold">
									{strips.length} strips, <span className="font-reading">{view.film.text}</span> of tape
								</h3>
								{own && <Button onClick={() => setOwn(null)}>Back to the best</Button>}
							</div>
							{!own && view.plan?.reasons.map((r) => <p key={r}>{r}</p>)}
							{!own && view.plan?.proven && (
								<p>✓ Proven: no layout is better by the goals, in their order.</p>
							)}
							<ol>
								{strips.map((s, n) => (
									<li
										key={s.number}
										className="grid grid-cols-[1.5rem_8rem_1fr_auto_auto] items-center gap-2 border-line border-t py-1"
									>
										<strong className="text-right">{s.number}</strong>
										<input
											aria-label={`Strip ${s.number} begins`}
											className="h-11 w-full rounded border border-soft bg-white px-2 font-reading"
											defaultValue={s.start.text}
											key={`${s.start.text} ${s.number}`}
											onBlur={(e) =>
												e.target.value !== s.start.text &&
												edit(n, { start_mm: e.target.value as unknown as number })
											}
											onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
										/>
										<span>
											to <span className="font-reading">{s.end.text}</span>
											<br />
											<span className="font-reading">{s.length.text}</span> long
										</span>
										<Button
											disabled={s.strip.runs.length < 2}
											onClick={() => edit(n, { runs: s.strip.runs.slice(0, -1) })}
										>
											Trim
										</Button>
										<Button onClick={() => setOwn(asOwn().filter((_, m) => m !== n))}>Remove</Button>
									</li>
								))}
							</ol>
							{strips.length > 0 && (
								<Button
									className="mt-2"
									onClick={() => {
										// Behind the last one, so that it is seen; where it goes is then typed.
										const last = strips.at(-1);
										if (last) setOwn([...asOwn(), { ...last.strip, start_mm: last.end.mm }]);
									}}
								>
									Add a strip like the last
								</Button>
							)}
						</section>
						<section aria-label="Audit" className="rounded bg-paper p-4">
							<h3 className="font-bold">Audit, clause by clause. It is no approval.</h3>
							<ul>
								{view.audit.map((f) => (
									<li
										key={f.asks}
										className={`border-line border-t py-1 ${f.audited === "fail" ? "text-trouble" : ""}`}
									>
										<strong>{WORDS[f.audited]}</strong> {f.asks}{" "}
										<span className="text-soft">({f.clause})</span>
										<br />
										{f.measured}
									</li>
								))}
							</ul>
							<ol className="mt-3 border-tape-deep border-t-2 pt-2">
								{view.steps.map((s, n) => (
									<li key={s} className="flex gap-2">
										<strong>{n + 1}</strong>
										{s}
									</li>
								))}
							</ol>
						</section>
					</div>
				</>
			)}
		</div>
	);
}

/** Strips of tape on the picture, colour by colour; thinner than a pixel or two they are still seen. */
export function MarkRuns({ view, frame }: { view: View | null; frame: Frame }) {
	return (
		<g pointerEvents="none">
			{view?.strips
				.flatMap((s) => s.runs)
				.map((run) => (
					<polygon
						key={run.corners.join()}
						points={run.corners.map((c) => px(frame, c as unknown as Point).join(",")).join(" ")}
						fill={INK[run.colour]}
						stroke="#1b2628"
						strokeWidth={1}
					/>
				))}
		</g>
	);
}

/** What is done next about the marking. */
export function NextMarking({ view }: { view: View | null }) {
	if (!view) return <NextMove sentence="Measure from the rail to the ground, at curb weight." />;
	const failed = view.audit.filter((f) => f.audited === "fail");
	const first = view.strips[0];
	return failed[0] || view.refused || !first ? (
		<NextMove
			alarm
			sentence={view.refused ?? failed[0]?.asks ?? "There is no strip yet."}
			detail={view.refused ? undefined : failed[0]?.measured}
		/>
	) : (
		<NextMove
			sentence={`${view.strips.length} strips, ${view.film.text} of tape: upper edge ${first.down.text} down, the first from ${first.start.text}.`}
			detail={ANSWER[view.applies.required]}
		/>
	);
}
