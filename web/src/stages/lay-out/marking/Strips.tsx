import { LengthField } from "../../../readings/LengthField";
import { Button } from "../../../ui/parts";
import type { FaceMarking, Found, SaveFace, SettleFace, Strip } from "./types";

/** The layout, strip by strip; each is moved, trimmed, lengthened or removed, and the audit follows. */
export function Strips({
	found,
	marking,
	save,
	settle,
	onHold,
}: {
	found: Found;
	marking: FaceMarking;
	save: SaveFace;
	settle: SettleFace;
	onHold: (number: number) => void;
}) {
	const strips = found.strips;
	const put = (own: Strip[] | null) => settle({ own });
	const all = () => strips.map((s) => s.strip);
	const changed = (n: number, part: Partial<Strip>) => all().map((s, m) => (m === n ? { ...s, ...part } : s));
	const edit = (n: number, part: Partial<Strip>) => save({ own: changed(n, part) });
	const longer = (strip: Strip): Strip["runs"] => {
		const last = strip.runs.at(-1);
		const pattern = marking.stock.pattern;
		const at = pattern.findIndex((r) => r.colour === last?.colour);
		const next = pattern[(at + 1) % pattern.length];
		return next ? [...strip.runs, next] : strip.runs;
	};
	return (
		<section aria-label="Strips" className="rounded bg-paper p-4">
			<div className="flex flex-wrap items-center justify-between gap-2">
				<h3 className="font-bold text-xl">
					{strips.length} strips, <span className="font-reading">{found.film.text}</span> of tape
				</h3>
				{found.audits === "own" && <Button onClick={() => put(null)}>Back to the best</Button>}
			</div>
			{found.audits === "best" &&
				found.elements.map((e) => (
					<div key={e.element} className="mt-1">
						<strong className="block first-letter:uppercase">{e.name}</strong>
						{e.refused && <p className="text-trouble">! {e.refused}</p>}
						{e.reasons.map((r) => (
							<p key={r}>{r}</p>
						))}
						{(e.heights[0] ?? 0) > 0 && (
							<p className="text-soft">
								{e.heights[0]} heights tried, {e.heights[1]} left out: more in the way and nothing gained.
							</p>
						)}
					</div>
				))}
			{found.audits === "best" &&
				found.proven &&
				strips.length > 0 &&
				found.elements.every((e) => !e.refused) && (
					<p className="mt-1 font-bold">✓ Proven: no layout is better by the goals, in their order.</p>
				)}
			<ol className="mt-2">
				{strips.map((s, n) => (
					<li
						key={s.number}
						onFocus={() => onHold(s.number)}
						className="grid grid-cols-[2rem_minmax(0,1fr)_minmax(0,1fr)] items-end gap-2 border-line border-t py-2 @md:grid-cols-[2rem_9rem_8rem_1fr_auto]"
					>
						<strong className="pb-2 text-right text-xl">{s.number}</strong>
						<LengthField
							label={`Strip ${s.number} begins`}
							printed={s.start.text}
							onCommit={(typed) => edit(n, { start_mm: typed })}
						/>
						<LengthField
							label={s.strip.upright ? "its middle, up" : "above ground"}
							printed={s.centre.text}
							onCommit={(typed) => edit(n, { centre_mm: typed })}
						/>
						<p className="max-@md:col-span-3">
							{s.strip.element !== "line" && <>{s.part}, </>}
							{s.strip.upright ? "upright, " : ""}to <b className="font-reading">{s.end.text}</b>,{" "}
							<b className="font-reading">{s.length.text}</b> long, upper edge{" "}
							<b className="font-reading">{s.down.text}</b> down
							{s.strip.split_mm != null && "; split along its middle"}
							{s.cut_back.length > 0 && <>; cut back from {s.cut_back.join(", ")}</>}
						</p>
						<span className="flex flex-wrap gap-1 max-@md:col-span-3">
							<Button
								aria-label={`Strip ${s.number}: one colour fewer`}
								disabled={s.strip.runs.length < 2}
								onClick={() => put(changed(n, { runs: s.strip.runs.slice(0, -1) }))}
							>
								Trim
							</Button>
							<Button
								aria-label={`Strip ${s.number}: one colour more`}
								onClick={() => put(changed(n, { runs: longer(s.strip) }))}
							>
								Longer
							</Button>
							<Button
								aria-label={`Remove strip ${s.number}`}
								onClick={() => put(all().filter((_, m) => m !== n))}
							>
								Remove
							</Button>
						</span>
					</li>
				))}
			</ol>
			{strips.length > 0 && (
				<Button
					className="mt-2"
					onClick={() => {
						// Behind the last one, so that it is seen; where it goes is then typed.
						const last = strips.at(-1);
						if (last) put([...all(), { ...last.strip, start_mm: last.end.mm }]);
					}}
				>
					Add a strip like the last
				</Button>
			)}
		</section>
	);
}
