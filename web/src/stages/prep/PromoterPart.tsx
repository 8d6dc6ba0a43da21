import type { Schemas } from "../../api/client";
import { type Frame, px } from "../../drawing/frame";
import { clock } from "../../job/clock";
import { useNow } from "../../job/useNow";
import { Button } from "../../ui/parts";

/** Where promoter goes and which edge is tacky; where cutting tape lies before the film does. */
export function PromoterPart({
	view,
	onRun,
}: {
	view: Schemas["PrepView"];
	onRun: (piece: string, run: string) => Promise<unknown>;
}) {
	const waits = view.pieces.some((p) => p.runs.some((r) => r.tacky && Date.parse(r.tacky) > Date.now()));
	const now = useNow(waits);
	return (
		<div className="grid grid-cols-[minmax(0,1fr)] gap-3 @4xl:grid-cols-2">
			{view.pieces.map((p) => (
				<section key={p.piece} aria-label={p.called} className="rounded bg-paper p-4">
					<h3 className="font-bold text-xl">{p.called}</h3>
					{p.runs.length === 0 && <p>No promoter under it.</p>}
					<ul className="flex flex-col divide-y divide-line">
						{p.runs.map((r) => {
							const left = r.tacky ? (Date.parse(r.tacky) - now) / 1000 : null;
							return (
								<li key={r.name} className="flex flex-wrap items-center gap-3 py-2">
									<span className="min-w-0 grow basis-48">
										<b className="inline-block first-letter:uppercase">{r.name}</b>,{" "}
										<b className="font-reading">{r.length.text}</b>, {Math.ceil(r.ml)} ml
										<span className="block text-soft">{r.why}</span>
									</span>
									{left === null ? (
										<Button
											className="min-h-16"
											aria-label={`Promoter on ${r.name}`}
											onClick={() => onRun(p.piece, r.name)}
										>
											It is on
										</Button>
									) : left > 0 ? (
										<b role="timer" className="font-reading text-3xl">
											{clock(left)}
										</b>
									) : (
										<b className="text-good">✓ tacky</b>
									)}
								</li>
							);
						})}
					</ul>
					{p.cutting_tape.mm > 0 && (
						<p className="mt-2 border-line border-t pt-2">
							Cutting tape before the film: <b className="font-reading">{p.cutting_tape.text}</b>, along the
							dotted line.
						</p>
					)}
				</section>
			))}
			{view.promoter && (
				<p className="rounded bg-paper p-4">
					{view.promoter} Where is common practice; which edges meet weather is Windrift’s reading of it, and
					the film’s sheet decides about laps.
				</p>
			)}
		</div>
	);
}

/** Promoter and cutting tape over the picture: a thick line, a dotted one, and a tick where it is on. */
export function Runs({ view, frame }: { view: Schemas["PrepView"]; frame: Frame }) {
	const path = (lines: number[][][]) =>
		lines.map((l) => l.map((p, n) => `${n === 0 ? "M" : "L"}${px(frame, p).join(" ")}`).join("")).join("");
	return (
		<g pointerEvents="none" fill="none" strokeLinecap="round">
			{view.pieces.map((p) => (
				<g key={p.piece}>
					<path d={path(p.tape_lines)} stroke="var(--color-ink)" strokeWidth={2} strokeDasharray="2 7" />
					{p.runs.map((r) => (
						<path
							key={r.name}
							data-testid="promoter-run"
							d={path(r.lines)}
							stroke={r.tacky ? "var(--color-good)" : "var(--color-tape-deep)"}
							strokeWidth={7}
							strokeOpacity={0.75}
							strokeDasharray={r.tacky ? undefined : "14 10"}
						/>
					))}
				</g>
			))}
		</g>
	);
}
