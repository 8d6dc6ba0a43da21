import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Magnified } from "../../drawing/SidePicture";
import { Button, TroubleNote } from "../../ui/parts";

const STATES = {
	clear: { mark: "○", word: "clear" },
	covered: { mark: "●", word: "covered" },
	edge_on_it: { mark: "⊗", word: "under a cut edge" },
} as const;

/** Every rivet column that a piece crosses, head by head; seams; hardware; and a window that steps through the troubles. */
export function LandsOn({ side, piece }: { side: Schemas["SideView"]; piece: Schemas["PieceView"] }) {
	const { landing } = piece;
	const all = landing.columns.flatMap((c) => c.heads.map((head) => ({ column: c.column, head })));
	const bad = all.filter(({ head }) => head.state === "edge_on_it");
	const stops = bad.length > 0 ? bad : all;
	const [stop, setStop] = useState(0);
	const at = stops[stop % Math.max(stops.length, 1)];
	return (
		<div className="grid gap-4 @3xl:grid-cols-[auto_1fr_1fr]">
			{at && (
				<div className="flex flex-col gap-2">
					<Magnified
						side={side}
						pieces={[piece]}
						at={at.head.at as unknown as readonly [number, number]}
						width={260}
						height={150}
						scale={0.9}
						label={`Magnified: column ${at.column}, rivet ${at.head.number}, ${STATES[at.head.state].word}`}
					/>
					<div className="flex items-center gap-2">
						<Button
							onClick={() => setStop((stop + stops.length - 1) % stops.length)}
							aria-label="The one before"
						>
							‹
						</Button>
						<span className={at.head.state === "edge_on_it" ? "font-bold text-trouble" : ""}>
							Column {at.column}, {at.head.down.text} down: {STATES[at.head.state].word}
							{at.head.letter && ` of ${at.head.letter}`}
						</span>
						<Button onClick={() => setStop((stop + 1) % stops.length)} aria-label="The next one">
							›
						</Button>
					</div>
				</div>
			)}
			<section aria-label="Rivet columns">
				<h3 className="mb-1 font-bold">Rivet columns, head by head from the top</h3>
				{landing.columns.length === 0 && <p>It crosses no rivet column.</p>}
				<ul className="grid gap-1">
					{landing.columns.map((c) => (
						<li key={c.column} className="flex flex-wrap items-center gap-x-3 rounded bg-paper px-3 py-1">
							<span>
								Column {c.column}, <span className="font-reading">{c.back.text}</span> back
							</span>
							<span
								className="ml-auto font-reading text-xl"
								role="img"
								aria-label={c.heads.map((h) => STATES[h.state].word).join(", ")}
							>
								{c.heads.map((h) => (
									<span key={h.number} className={h.state === "edge_on_it" ? "text-trouble" : ""}>
										{STATES[h.state].mark}
									</span>
								))}
							</span>
						</li>
					))}
				</ul>
				<p className="mt-1 text-soft">○ clear, ● covered, ⊗ under a cut edge</p>
			</section>
			<section aria-label="Seams and hardware">
				{piece.worked.length > 0 && (
					<>
						<h3 className="mb-1 font-bold">What the print meets</h3>
						<ul className="mb-2 grid gap-1" aria-label="What the print meets">
							{piece.worked.map((w, n) => (
								<li key={`${w.name} ${n}`} className="rounded bg-paper px-3 py-1">
									<b>{w.name}</b>, <span className="font-reading">{w.length.text}</span>:{" "}
									{w.never && <strong>! </strong>}
									{w.how}
								</li>
							))}
						</ul>
						<p className="mb-2 text-soft">
							Common practice, no source. No blade on paint: a guard under every cut. Heat by the film's data
							sheet, never near solvent.
						</p>
					</>
				)}
				<h3 className="mb-1 font-bold">Seams and what is near</h3>
				{piece.spec.art.is !== "panel" &&
					landing.hardware.map((h) => <TroubleNote key={h.name}>{h.sentence}</TroubleNote>)}
				<ul>
					{landing.zones.map((z) => (
						<li key={z.name}>{z.sentence}</li>
					))}
					{landing.lines.map((s) => (
						<li key={s.name} className={s.state === "edge_along" ? "font-bold text-trouble" : ""}>
							{s.name}, {s.back.text} back:{" "}
							{s.state === "clear"
								? "passes through a space"
								: s.state === "crossed"
									? `crossed by ${s.letters.join(", ")}`
									: `a cut edge of ${s.letters.join(", ")} runs along it`}
						</li>
					))}
					{landing.nearest.slice(0, 4).map((n) => (
						<li key={n.to}>
							<span className="font-reading">{n.distance.text}</span> clear to the {n.to}
						</li>
					))}
				</ul>
			</section>
		</div>
	);
}
