import type { Schemas } from "../../api/client";
import { useWidth } from "../../drawing/frame";
import { Button, Choice, NextMove, TroubleNote, Waiting } from "../../ui/parts";
import type { Nesting } from "./useNest";

/** What is cut next, from which roll. */
export function NextCut({ nest, found }: { nest: Nesting; found: Schemas["NestView"] }) {
	if (found.short) return <NextMove alarm sentence={found.short} />;
	if (found.rolls.length === 0)
		return <NextMove sentence={`All of ${found.film_name} is cut for this job.`} />;
	const from = found.rolls.map((r) => `${r.used.text} of lot ${r.lot}`).join(", ");
	return (
		<NextMove sentence={`Cut ${found.film_name}: ${from}.`} detail="What is cut is taken from the roll.">
			<Button look="next" disabled={nest.cutting} onClick={() => void nest.cut()}>
				It is cut
			</Button>
		</NextMove>
	);
}

/** Everything of one film on its rolls, and what no layout falls below. */
export function OnTheRoll({
	nest,
	films,
	film,
	unit,
	onFilm,
}: {
	nest: Nesting;
	/** Films of the job by key and name. */
	films: [string, string][];
	film: string | null;
	unit: Schemas["SideView"]["unit"];
	onFilm: (film: string) => void;
}) {
	const { found, wrong, looking, setLooking } = nest;
	if (!film) return <p className="py-3 text-lg">Choose a film for a piece first: then its rolls are here.</p>;
	const alongMm = Math.max(...(found?.rolls ?? []).map(shownOf));
	return (
		<div className="grid grid-cols-[minmax(0,1fr)] gap-3">
			{films.length > 1 && (
				<Choice
					label="Film"
					value={film}
					onChange={onFilm}
					options={films.map(([value, text]) => ({ value, text }))}
				/>
			)}
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
			{!found && !wrong && <Waiting what="the layout" />}
			{found?.rolls.map((roll) => (
				<Roll key={roll.id} roll={roll} alongMm={alongMm} />
			))}
			{found && found.rolls.length > 0 && (
				<p className="flex flex-wrap items-center gap-x-3 text-lg">
					<span>
						This job takes <b className="font-reading">{found.used.text}</b> of rolls,{" "}
						{found.waste.toFixed(1)} % of it beside the pieces; no layout on these rolls takes less than{" "}
						<b className="font-reading">{found.least.text}</b>.
					</span>
					{found.short ? null : found.done ? (
						<b>✓ Nothing is left to gain.</b>
					) : looking ? (
						<>
							<span className="text-soft" role="status">
								Still looking, {found.tried} tried…
							</span>
							<Button onClick={() => setLooking(false)}>Stop</Button>
						</>
					) : (
						<Button onClick={() => setLooking(true)}>Look on</Button>
					)}
				</p>
			)}
			{found?.lots.map((l) => (
				<TroubleNote key={l}>{l}</TroubleNote>
			))}
			{found && found.cut.length > 0 && (
				<section aria-label="Cut already" className="rounded bg-paper p-3">
					<h3 className="font-bold text-lg">Cut already</h3>
					<ul>
						{found.cut.map((c) => (
							<li key={`${c.roll} ${c.at}`}>
								<b className="font-reading">{c.length.text}</b> of lot {c.lot}: {c.pieces.join(", ")}
								{c.offcut && (
									<span className="flex flex-wrap items-center gap-3">
										<span>
											Beside it{" "}
											<b className="font-reading">
												{c.offcut.length.text} × {c.offcut.width.text}
											</b>{" "}
											is left in one piece.
										</span>
										{c.offcut.kept ? (
											<b>✓ on the shelf</b>
										) : (
											<Button onClick={() => void nest.keepOffcut(c.lot, c.offcut)}>
												Put it on the shelf
											</Button>
										)}
									</span>
								)}
							</li>
						))}
					</ul>
					<p className="text-soft">
						What is left otherwise goes back under Shelf, Add a roll, as an offcut. What is less than{" "}
						{unit === "millimetre" ? "152 mm" : "6 inches"} long or wide is not offered (Windrift’s own).
					</p>
				</section>
			)}
		</div>
	);
}

/** Room over a roll for its tape, px. */
const TAPE = 26;
/** Height of a roll on the screen, at most, px. */
const HIGH = 190;

/** How much of a roll is shown: what is taken and some more of it, mm. */
const shownOf = (roll: Schemas["LaidRoll"]) =>
	Math.min(roll.left.mm, Math.max(roll.used.mm * 1.2, roll.used.mm + 400));

/** A roll along a tape, from its free end: what lies on it, where it is cut off, and that it goes on. All rolls are to one scale. */
function Roll({ roll, alongMm }: { roll: Schemas["LaidRoll"]; alongMm: number }) {
	const [ref, width] = useWidth();
	const shownMm = shownOf(roll);
	const goesOn = shownMm < roll.left.mm - 1;
	const inner = Math.max(width - 4, 200);
	const scale = Math.min(inner / Math.max(alongMm, 1), HIGH / roll.width.mm);
	const [w, h] = [shownMm * scale, roll.width.mm * scale];
	const metric = !/['"]|\d \d+\/\d/.test(roll.left.text) && !roll.left.text.includes("'");
	const large = metric ? 500 : 304.8;
	const step = [1, 2, 5, 10, 20].find((s) => s * large * scale >= 46) ?? 50;
	const marks = Array.from({ length: Math.floor(shownMm / (large * step)) + 1 }, (_, n) => n * step).filter(
		(n) => n === 0 || n * large * scale < w - 30,
	);
	const usedAt = roll.used.mm * scale;
	return (
		<figure aria-label={`${roll.offcut ? "Offcut" : "Roll"} of lot ${roll.lot}`} className="min-w-0">
			<figcaption className="text-lg">
				<b>
					{roll.offcut ? "Offcut" : "Roll"}, lot {roll.lot}
				</b>
				{roll.place && <>, {roll.place}</>}: {roll.width.text} wide,{" "}
				<b className="font-reading">{roll.left.text}</b> on it. This job takes{" "}
				<b className="font-reading">{roll.used.text}</b>, {roll.stays.text} stays.
			</figcaption>
			<div ref={ref}>
				{width > 0 && (
					<svg
						width={w + 4}
						height={h + TAPE + 4}
						role="img"
						aria-label={`${roll.pieces.length} pieces on it`}
					>
						<rect
							x={1}
							y={1}
							width={w}
							height={TAPE - 6}
							fill="var(--color-tape-ground)"
							stroke="var(--color-tape-edge)"
						/>
						{marks.map((n) => (
							<g key={n}>
								<line
									x1={1 + n * large * scale}
									x2={1 + n * large * scale}
									y1={9}
									y2={TAPE - 5}
									stroke="var(--color-tape-mark)"
								/>
								<text
									x={4 + n * large * scale}
									y={15}
									fontSize={15}
									fontWeight={600}
									fill="var(--color-tape-mark)"
								>
									{metric ? `${n / 2} m` : `${n}'`}
								</text>
							</g>
						))}
						<g transform={`translate(1 ${TAPE})`}>
							<path
								d={
									goesOn
										? `M0 0H${w}l-6 ${h / 6}l6 ${h / 6}l-6 ${h / 6}l6 ${h / 6}l-6 ${h / 6}l6 ${h / 6}H0Z`
										: `M0 0H${w}V${h}H0Z`
								}
								fill="var(--color-paper)"
								stroke="var(--color-ink)"
							/>
							{roll.pieces.map((p) => {
								const [x = 0, y = 0, bw = 0, bh = 0] = p.bounds;
								const wide = bw * scale;
								return (
									<g key={`${p.piece} ${p.panel}`}>
										<title>{`${p.called}, from ${p.from.text}${p.turned ? ", turned" : ""}`}</title>
										{p.boxed && (
											<rect
												x={x * scale}
												y={y * scale}
												width={wide}
												height={bh * scale}
												fill="none"
												stroke="var(--color-soft)"
												strokeDasharray="4 3"
											/>
										)}
										<path d={p.path} transform={`scale(${scale})`} fill={p.colour} fillRule="evenodd" />
										{p.panel != null && (
											<text
												x={x * scale + 5}
												y={y * scale + 17}
												fontSize={16}
												fontWeight={700}
												fill="var(--color-ink)"
												stroke="var(--color-paper)"
												strokeWidth={4}
												paintOrder="stroke"
											>
												{p.panel}
											</text>
										)}
									</g>
								);
							})}
							<line
								x1={usedAt}
								x2={usedAt}
								y1={-4}
								y2={h + 3}
								stroke="var(--color-measure)"
								strokeWidth={3}
								strokeDasharray="6 4"
							/>
						</g>
					</svg>
				)}
			</div>
			<ol className="flex flex-wrap gap-x-5">
				{roll.pieces.map((p) => (
					<li key={`${p.piece} ${p.panel}`}>
						{p.called} from <b className="font-reading">{p.from.text}</b>
						{p.turned && ", turned"}
					</li>
				))}
			</ol>
		</figure>
	);
}
