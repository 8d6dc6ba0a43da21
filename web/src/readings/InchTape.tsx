import { type PointerEvent, useRef } from "react";
import { useWidth } from "../drawing/frame";
import { entryOf, MARKS_32 } from "./entry";

const EDGE = 40;

/** One inch of tape, drawn large: the fraction is touched where it is seen on the real one. */
export function InchTape({
	text,
	onMark,
	height = 132,
}: {
	text: string;
	onMark: (mark: number) => void;
	height?: number;
}) {
	const [ref, width] = useWidth();
	const slider = useRef<HTMLDivElement>(null);
	const entry = entryOf(text);
	const mark = entry?.mark ?? 0;
	const whole = entry ? Number(entry.whole || 0) : null;
	const inch = Math.max(width - 2 * EDGE, 100);
	const x = (n: number) => EDGE + (n * inch) / 32;
	const touch = (event: PointerEvent) => {
		const box = slider.current?.getBoundingClientRect();
		if (!box || event.buttons === 0) return;
		// To the nearest sixteenth; the 32nds are for the buttons beside.
		const sixteenth = Math.round(((event.clientX - box.left - EDGE) / inch) * 16);
		onMark(Math.max(0, Math.min(15, sixteenth)) * 2);
	};
	return (
		<div ref={ref} className="min-w-0 grow">
			<div
				ref={slider}
				role="slider"
				tabIndex={0}
				aria-label="Fraction of the inch"
				aria-valuemin={0}
				aria-valuemax={31}
				aria-valuenow={mark}
				aria-valuetext={MARKS_32[mark] || "on the whole inch"}
				data-testid="inch-tape"
				className="touch-none"
				onPointerDown={touch}
				onPointerMove={touch}
				onKeyDown={(e) => {
					const step = { ArrowRight: 2, ArrowUp: 2, ArrowLeft: -2, ArrowDown: -2 }[e.key];
					if (step) {
						e.preventDefault();
						onMark(mark + step);
					}
				}}
			>
				<svg width={width} height={height} aria-hidden className="block rounded">
					<rect
						width={width}
						height={height}
						fill="var(--color-tape-ground)"
						stroke="var(--color-tape-edge)"
						strokeWidth={2}
					/>
					{Array.from({ length: 17 }, (_, n) => n * 2).map((n) => {
						const tall = n % 32 === 0 ? 86 : n % 16 === 0 ? 66 : n % 8 === 0 ? 52 : n % 4 === 0 ? 40 : 28;
						return (
							<g key={n}>
								<line
									x1={x(n)}
									x2={x(n)}
									y1={0}
									y2={tall}
									stroke="var(--color-tape-mark)"
									strokeWidth={n % 8 === 0 ? 3 : 2}
								/>
								{n % 8 === 0 && n % 32 !== 0 && (
									<text
										x={x(n)}
										y={tall + 20}
										textAnchor="middle"
										fontSize={18}
										fontWeight={600}
										fill="var(--color-tape-mark)"
									>
										{MARKS_32[n]}
									</text>
								)}
							</g>
						);
					})}
					{whole !== null && (
						<>
							<text
								x={EDGE}
								y={height - 14}
								textAnchor="middle"
								fontFamily="B612 Mono"
								fontWeight={700}
								fontSize={24}
								fill="var(--color-tape-mark)"
							>
								{whole}
							</text>
							<text
								x={x(32)}
								y={height - 14}
								textAnchor="middle"
								fontFamily="B612 Mono"
								fontWeight={700}
								fontSize={24}
								fill="var(--color-tape-mark)"
							>
								{whole + 1}
							</text>
						</>
					)}
					<g transform={`translate(${x(mark)} 0)`}>
						<line y1={0} y2={height - 40} stroke="var(--color-measure)" strokeWidth={5} />
						<circle
							cy={height - 32}
							r={12}
							fill="var(--color-measure)"
							stroke="var(--color-paper)"
							strokeWidth={3}
						/>
					</g>
				</svg>
			</div>
		</div>
	);
}
