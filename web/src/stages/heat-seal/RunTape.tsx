import type { PointerEvent } from "react";
import type { Schemas } from "../../api/client";
import { useWidth } from "../../drawing/frame";

const HIGH = 64;

/** How a stretch is drawn: a colour, a sign and a word, so that none depends on the colour. */
const LOOKS: Record<Schemas["Reached"], { fill: string; sign: string; word: string }> = {
	reached: { fill: "var(--color-good-soft)", sign: "✓", word: "reached" },
	not_measured: { fill: "var(--color-paper)", sign: "", word: "not measured" },
	not_reached: { fill: "var(--color-tape)", sign: "↓", word: "not reached" },
	passed: { fill: "var(--color-trouble-soft)", sign: "!", word: "passed its ceiling" },
};

/** A run as a tape that fills: reached, not measured, not reached, passed. A touch says where the next reading is taken. */
export function RunTape({
	run,
	unit,
	at,
	onAt,
}: {
	run: Schemas["HeatRunView"];
	unit: Schemas["Unit"];
	/** Where the next reading is taken, mm. */
	at: number;
	onAt: (mm: number) => void;
}) {
	const [ref, width] = useWidth();
	const long = Math.max(run.length.mm, 1);
	const x = (mm: number) => (mm / long) * width;
	const metric = unit === "millimetre";
	const large = metric ? 100 : 25.4;
	const step = [1, 2, 5, 10, 20, 50, 100].find((s) => x(s * large) >= 52) ?? 200;
	const marks = Array.from({ length: Math.floor(long / (large * step)) + 1 }, (_, n) => n * step);
	const touch = (e: PointerEvent<SVGSVGElement>) => {
		const box = e.currentTarget.getBoundingClientRect();
		onAt(Math.min(long, Math.max(0, ((e.clientX - box.left) / box.width) * long)));
	};
	const words = run.stretches.map(
		(s) => `${Math.round(((s.to_mm - s.from_mm) / long) * 100)} % ${LOOKS[s.is].word}`,
	);
	return (
		<div ref={ref}>
			{width > 0 && (
				<svg
					width={width}
					height={HIGH + 24}
					role="img"
					aria-label={`${run.name}: ${words.join(", ")}`}
					data-testid="run-tape"
					className="block touch-manipulation"
					onPointerDown={touch}
				>
					{run.stretches.map((s) => {
						const look = LOOKS[s.is];
						const wide = x(s.to_mm - s.from_mm);
						return (
							<g key={s.from_mm}>
								<rect
									x={x(s.from_mm)}
									y={0}
									width={wide}
									height={HIGH}
									fill={look.fill}
									stroke={s.is === "passed" ? "var(--color-trouble)" : "var(--color-soft)"}
									strokeWidth={s.is === "passed" ? 3 : 1}
									strokeDasharray={s.is === "not_measured" ? "4 5" : undefined}
								/>
								{wide > 16 && look.sign && (
									<text
										x={x((s.from_mm + s.to_mm) / 2)}
										y={HIGH / 2 + 8}
										textAnchor="middle"
										fontSize={22}
										fontWeight={700}
										fill="var(--color-ink)"
									>
										{look.sign}
									</text>
								)}
								{wide > 110 && (
									<text x={x(s.from_mm) + 6} y={HIGH - 6} fontSize={15} fill="var(--color-ink)">
										{look.word}
									</text>
								)}
							</g>
						);
					})}
					<path d={`M${x(at)} 0V${HIGH}`} stroke="var(--color-measure)" strokeWidth={4} />
					<path d={`M${x(at) - 9} 0h18l-9 12z`} fill="var(--color-measure)" />
					{marks.map((n) => (
						<g key={n}>
							<path d={`M${x(n * large)} ${HIGH}v6`} stroke="var(--color-tape-mark)" strokeWidth={2} />
							<text
								x={Math.min(x(n * large), width - 4)}
								y={HIGH + 21}
								textAnchor={n === 0 ? "start" : x(n * large) > width - 20 ? "end" : "middle"}
								fontSize={15}
								fill="var(--color-tape-mark)"
							>
								{metric ? n * 100 : n}
								{n === 0 && (metric ? " mm" : " in")}
							</text>
						</g>
					))}
				</svg>
			)}
		</div>
	);
}
