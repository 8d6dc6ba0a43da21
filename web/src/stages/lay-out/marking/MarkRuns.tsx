import { type PointerEvent, useRef } from "react";
import { type Frame, px } from "../../../drawing/frame";
import { type Found, INK, type Strip } from "./types";

/** A reach of a fingertip above and below a strip, px. */
const TOUCH = 22;

/**
 * Strips of tape on the picture, colour by colour, with their numbers; a level one is taken hold of and moved along. Thinner than a
 * pixel or two they are still seen.
 */
export function MarkRuns({
	found,
	frame,
	step,
	onHold,
	onMove,
	onRest,
	named = "strip",
}: {
	found: Found | null | undefined;
	frame: Frame;
	/** Strips are moved in steps of so many mm. */
	step: number;
	/** Told which strip is taken hold of. */
	onHold?: (number: number) => void;
	/** Told which strips are wanted while one is moved; nothing where they cannot be. */
	onMove?: (strips: Strip[]) => void;
	onRest?: () => void;
	/** What its strips are called for whoever looks for one. */
	named?: string;
}) {
	const held = useRef<{ number: number; x: number; way: number; strips: Strip[] } | null>(null);
	if (!found) return null;
	const begin = (number: number, corners: number[][], event: PointerEvent<SVGRectElement>) => {
		const [a, b] = corners as [[number, number], [number, number]];
		event.currentTarget.setPointerCapture(event.pointerId);
		onHold?.(number);
		held.current = {
			number,
			x: event.clientX,
			way: Math.sign(b[0] - a[0]) || 1,
			strips: found.strips.map((s) => s.strip),
		};
	};
	const move = (event: PointerEvent<SVGRectElement>) => {
		const h = held.current;
		if (!h) return;
		const back = (h.way * (event.clientX - h.x)) / frame.scale;
		const by = Math.round(back / step) * step;
		onMove?.(h.strips.map((s, n) => (n + 1 === h.number ? { ...s, start_mm: Number(s.start_mm) + by } : s)));
	};
	const rest = () => {
		if (held.current) onRest?.();
		held.current = null;
	};
	// A strip that a clause is not kept by: a thick rim and a mark beside its number, not a colour alone.
	const wrong = new Set(found.audit.filter((f) => f.audited === "fail").flatMap((f) => f.strips ?? []));
	const ground = found.ground;
	const member = found.member;
	const line = ground.line.map((p) => px(frame, p));
	return (
		<g>
			{ground.below_mm > 0 && (
				<polyline
					points={line.map((p) => p.join(",")).join(" ")}
					stroke="var(--color-ink)"
					strokeWidth={3}
					strokeDasharray="10 6"
					fill="none"
					pointerEvents="none"
				/>
			)}
			{member && (
				<polygon
					points={member.map((c) => px(frame, c).join(",")).join(" ")}
					fill="var(--color-line)"
					stroke="var(--color-ink)"
					pointerEvents="none"
				/>
			)}
			{found.planned.map((corners) => (
				<polygon
					key={`planned ${corners.join()}`}
					points={corners.map((c) => px(frame, c).join(",")).join(" ")}
					fill="none"
					stroke="var(--color-measure)"
					strokeWidth={1.5}
					strokeDasharray="5 4"
					pointerEvents="none"
				/>
			))}
			{found.strips.map((s) => s.strip.reflectors && <Row key={`row ${s.number}`} strip={s} frame={frame} />)}
			{found.strips.flatMap((s) =>
				(s.strip.reflectors ? [] : s.runs).map((run) => (
					<polygon
						key={`${s.number} ${run.corners.join()}`}
						points={run.corners.map((c) => px(frame, c).join(",")).join(" ")}
						fill={INK[run.colour]}
						stroke="var(--color-ink)"
						strokeWidth={1}
						pointerEvents="none"
					/>
				)),
			)}
			{found.strips.map((s) => {
				const corners = s.runs.flatMap((r) => r.corners).map((c) => px(frame, c));
				const xs = corners.map((c) => c[0]);
				const ys = corners.map((c) => c[1]);
				const [left, right] = [Math.min(...xs), Math.max(...xs)];
				const [top, foot] = [Math.min(...ys), Math.max(...ys)];
				const first = s.runs[0]?.corners;
				const level = !s.strip.upright && s.strip.element === "line";
				return (
					<g key={s.number}>
						{onMove && level && first && (
							<rect
								data-testid={`${named}-${s.number}`}
								x={left}
								y={top - TOUCH}
								width={right - left}
								height={foot - top + 2 * TOUCH}
								fill="transparent"
								className="cursor-ew-resize touch-none"
								onPointerDown={(e) => begin(s.number, first, e)}
								onPointerMove={move}
								onPointerUp={rest}
								onPointerCancel={rest}
							/>
						)}
						{wrong.has(s.number) && (
							<rect
								x={left - 4}
								y={top - 4}
								width={right - left + 8}
								height={foot - top + 8}
								fill="none"
								stroke="var(--color-trouble)"
								strokeWidth={4}
								pointerEvents="none"
							/>
						)}
						{(right - left > 14 || s.strip.upright || wrong.has(s.number)) && (
							<text
								x={(left + right) / 2}
								// Beside an upright's foot, so that it does not meet the number of the strip above it.
								y={s.strip.upright ? foot + 13 : top - (wrong.has(s.number) ? 9 : 4)}
								textAnchor="middle"
								fontSize={13}
								fontWeight={700}
								fill="var(--color-ink)"
								stroke="var(--color-tape-pale)"
								strokeWidth={3}
								paintOrder="stroke"
								pointerEvents="none"
							>
								{wrong.has(s.number) ? `! ${s.number}` : s.number}
							</text>
						)}
					</g>
				);
			})}
		</g>
	);
}

/** A row of reflectors, one by one, each in its colour; what is too small to be told apart is a line of them. */
function Row({ strip, frame }: { strip: Found["strips"][number]; frame: Frame }) {
	const row = strip.strip.reflectors;
	const runs = strip.runs.map((r) => ({ colour: r.colour, corners: r.corners.map((c) => px(frame, c)) }));
	const [a, , , d] = runs[0]?.corners ?? [];
	const [, b, c] = runs.at(-1)?.corners ?? [];
	if (!row || !a || !b || !c || !d) return null;
	const upright = strip.strip.upright;
	// From the middle of one short edge to the middle of the other.
	const [from, to] = upright ? [mid(a, b), mid(d, c)] : [mid(a, d), mid(b, c)];
	const across = upright ? Math.hypot(b[0] - a[0], b[1] - a[1]) : Math.hypot(d[0] - a[0], d[1] - a[1]);
	const long = Math.hypot(to[0] - from[0], to[1] - from[1]);
	const radius = Math.max(1, Math.min(across / 2, long / (row.count - 1) / 2.2));
	const first = runs[0]?.colour ?? "white";
	const other = runs[1]?.colour ?? first;
	return (
		<g pointerEvents="none">
			{Array.from({ length: row.count }, (_, n) => {
				const at = n / (row.count - 1);
				const colour = Math.floor(n / (runs.length > 1 ? row.of_a_colour : row.count)) % 2 ? other : first;
				return (
					<circle
						key={at}
						cx={from[0] + at * (to[0] - from[0])}
						cy={from[1] + at * (to[1] - from[1])}
						r={radius}
						fill={INK[colour]}
						stroke="var(--color-ink)"
						strokeWidth={0.75}
					/>
				);
			})}
		</g>
	);
}

const mid = (p: readonly [number, number], q: readonly [number, number]) =>
	[(p[0] + q[0]) / 2, (p[1] + q[1]) / 2] as const;
