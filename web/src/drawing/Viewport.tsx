import {
	type KeyboardEvent,
	type ReactNode,
	useCallback,
	useEffect,
	useLayoutEffect,
	useRef,
	useState,
} from "react";
import { Button } from "../ui/parts";
import { type Drawing, type Frame, fit, mm, type Point, useWidth } from "./frame";

/** The picture is drawn this much beyond the window on each side, so that a pan does not run into nothing. */
const BEYOND = 0.3;
/** Nearest that the picture is brought, px per mm: a rivet fills a fingertip. */
const NEAREST = 3;
/** A press that moves less than this is a tap, px. */
const STILL = 6;

export type Grab = { move: (right: number, down: number) => void; end: (kept: boolean) => void };

/**
 * A side to scale that is panned and zoomed by mouse, touch and keys. While a gesture lasts only the drawn picture is shifted and
 * scaled; it is drawn anew when the gesture rests.
 */
export function Viewport({
	drawing,
	height,
	label,
	children,
	overlay,
	figures,
	onTap,
	onGrab,
	onKey,
	resetKey,
}: {
	drawing: Drawing;
	height: number;
	label: string;
	/** Drawn into the picture, in px of its frame. */
	children: (frame: Frame) => ReactNode;
	/** Drawn over it on a layer of its own: what moves alone. */
	overlay?: (frame: Frame) => ReactNode;
	/** Figures over it, typed where they stand. */
	figures?: (frame: Frame, size: { width: number; height: number }) => ReactNode;
	/** A tap at a place of the picture, mm; `reach` is a fingertip in mm. */
	onTap?: (at: Point, reach: number) => void;
	/** A press at a place: answers what follows the pointer, or nothing to pan. */
	onGrab?: (at: Point, reach: number) => Grab | undefined;
	onKey?: (event: KeyboardEvent) => boolean;
	/** A new value shows the whole side again. */
	resetKey?: string;
}) {
	const [ref, width] = useWidth();
	const whole = fit(drawing, Math.max(width, 300), height).frame;
	const [frame, setFrame] = useState<Frame | null>(null);
	const shown = frame ?? whole;
	const now = useRef(shown);
	const layers = useRef<HTMLDivElement>(null);
	const settle = useRef<ReturnType<typeof setTimeout>>(undefined);
	const pointers = useRef(new Map<number, { x: number; y: number }>());
	const grab = useRef<Grab | undefined>(undefined);
	const pressed = useRef<{ x: number; y: number; moved: boolean } | null>(null);

	// biome-ignore lint/correctness/useExhaustiveDependencies: another side or size begins with the whole picture
	useEffect(() => setFrame(null), [resetKey, width]);
	// The drawn picture has caught up with the gesture.
	useLayoutEffect(() => {
		now.current = shown;
		for (const layer of layers.current?.children ?? []) (layer as HTMLElement).style.transform = "none";
	}, [shown]);

	/** Shifts and scales what is drawn to where `next` would have it. */
	const preview = useCallback(
		(next: Frame) => {
			now.current = next;
			const s = next.scale / shown.scale;
			const x = (shown.x - next.x) * next.scale;
			const y = (shown.y - next.y) * next.scale;
			for (const layer of layers.current?.children ?? []) {
				(layer as HTMLElement).style.transform = `translate(${x}px, ${y}px) scale(${s})`;
			}
		},
		[shown],
	);
	const rest = useCallback((wait: number) => {
		clearTimeout(settle.current);
		settle.current = setTimeout(() => setFrame({ ...now.current }), wait);
	}, []);
	useEffect(() => () => clearTimeout(settle.current), []);

	const limit = useCallback(
		(scale: number) => Math.min(Math.max(scale, whole.scale * 0.8), Math.max(NEAREST, whole.scale)),
		[whole.scale],
	);
	const zoomed = useCallback(
		(from: Frame, factor: number, [x, y]: Point): Frame => {
			const scale = limit(from.scale * factor);
			const [mx, my] = mm(from, [x, y]);
			return { scale, x: mx - x / scale, y: my - y / scale };
		},
		[limit],
	);
	const zoom = (factor: number) => setFrame(zoomed(now.current, factor, [width / 2, height / 2]));
	const pan = (right: number, down: number) =>
		setFrame({
			...now.current,
			x: now.current.x + right / now.current.scale,
			y: now.current.y + down / now.current.scale,
		});

	// The wheel is listened to by hand: React's listener cannot keep the page from scrolling.
	useEffect(() => {
		const element = ref.current;
		if (!element) return;
		const onWheel = (e: WheelEvent) => {
			e.preventDefault();
			const box = element.getBoundingClientRect();
			preview(zoomed(now.current, Math.exp(-e.deltaY * 0.0016), [e.clientX - box.left, e.clientY - box.top]));
			rest(160);
		};
		element.addEventListener("wheel", onWheel, { passive: false });
		return () => element.removeEventListener("wheel", onWheel);
	}, [ref, preview, zoomed, rest]);

	const local = (e: { clientX: number; clientY: number }): Point => {
		const box = ref.current?.getBoundingClientRect();
		return [e.clientX - (box?.left ?? 0), e.clientY - (box?.top ?? 0)];
	};
	const reach = () => 22 / now.current.scale;

	return (
		<div className="relative">
			<div
				ref={ref}
				role="application"
				// biome-ignore lint/a11y/noNoninteractiveTabindex: the picture is worked by keyboard: panned, stepped through, moved
				tabIndex={0}
				aria-label={label}
				data-testid="viewport"
				className="relative w-full touch-none select-none overflow-hidden border border-line bg-liner"
				style={{ height }}
				onPointerDown={(e) => {
					e.currentTarget.setPointerCapture(e.pointerId);
					const [x, y] = local(e);
					pointers.current.set(e.pointerId, { x, y });
					if (pointers.current.size === 1) {
						pressed.current = { x, y, moved: false };
						grab.current = onGrab?.(mm(now.current, [x, y]), reach());
					} else {
						grab.current?.end(false);
						grab.current = undefined;
					}
				}}
				onPointerMove={(e) => {
					const before = pointers.current.get(e.pointerId);
					if (!before) return;
					const [x, y] = local(e);
					const start = pressed.current;
					if (start && Math.hypot(x - start.x, y - start.y) > STILL) start.moved = true;
					if (pointers.current.size === 2) {
						const other = [...pointers.current].find(([id]) => id !== e.pointerId)?.[1];
						if (other) {
							const was = Math.hypot(before.x - other.x, before.y - other.y);
							const is = Math.hypot(x - other.x, y - other.y);
							const middle: Point = [(x + other.x) / 2, (y + other.y) / 2];
							preview(zoomed(now.current, is / Math.max(was, 1), middle));
						}
					} else if (grab.current && start) {
						if (start.moved)
							grab.current.move((x - start.x) / now.current.scale, (y - start.y) / now.current.scale);
					} else if (start?.moved) {
						preview({
							...now.current,
							x: now.current.x - (x - before.x) / now.current.scale,
							y: now.current.y - (y - before.y) / now.current.scale,
						});
					}
					pointers.current.set(e.pointerId, { x, y });
				}}
				onPointerUp={(e) => {
					pointers.current.delete(e.pointerId);
					const tapped = pressed.current && !pressed.current.moved;
					grab.current?.end(pressed.current?.moved ?? false);
					if (tapped) onTap?.(mm(now.current, local(e)), reach());
					grab.current = undefined;
					if (pointers.current.size === 0) pressed.current = null;
					if (!tapped) rest(0);
				}}
				onPointerCancel={(e) => {
					pointers.current.delete(e.pointerId);
					grab.current?.end(false);
					grab.current = undefined;
					pressed.current = null;
					rest(0);
				}}
				onKeyDown={(e) => {
					if (e.target !== e.currentTarget) return;
					const step = { ArrowLeft: [-60, 0], ArrowRight: [60, 0], ArrowUp: [0, -60], ArrowDown: [0, 60] }[
						e.key
					];
					if (e.key === "+" || e.key === "=") zoom(1.4);
					else if (e.key === "-") zoom(1 / 1.4);
					else if (e.key === "0") setFrame(null);
					else if (step && e.altKey) pan(step[0] ?? 0, step[1] ?? 0);
					else if (!onKey?.(e)) return;
					e.preventDefault();
				}}
			>
				{width > 0 && (
					<div ref={layers} className="absolute inset-0">
						<Layer width={width} height={height} frame={shown}>
							{children}
						</Layer>
						{/* On a layer of its own: what moves alone does not have the rest painted anew. */}
						{overlay && (
							<Layer width={width} height={height} frame={shown}>
								{overlay}
							</Layer>
						)}
						{figures && (
							<div className="pointer-events-none absolute inset-0 origin-top-left">
								{figures(shown, { width, height })}
							</div>
						)}
					</div>
				)}
			</div>
			<div className="absolute right-1 bottom-1 flex flex-col gap-1">
				{(
					[
						["+", "Nearer", () => zoom(1.4)],
						["−", "Farther", () => zoom(1 / 1.4)],
						["⤢", "Whole", () => setFrame(null)],
					] as const
				).map(([sign, name, act]) => (
					<Button
						key={name}
						className="w-11 px-0 font-bold text-xl"
						onClick={act}
						aria-label={name}
						title={name}
					>
						{sign}
					</Button>
				))}
			</div>
		</div>
	);
}

/** The frame of the larger picture that is drawn round the window. */
const beyond = (frame: Frame, width: number, height: number): Frame => ({
	...frame,
	x: frame.x - (width * BEYOND) / frame.scale,
	y: frame.y - (height * BEYOND) / frame.scale,
});

function Layer({
	width,
	height,
	frame,
	children,
}: {
	width: number;
	height: number;
	frame: Frame;
	children: (frame: Frame) => ReactNode;
}) {
	return (
		<div className="absolute inset-0 origin-top-left" style={{ willChange: "transform" }}>
			<svg
				width={width * (1 + 2 * BEYOND)}
				height={height * (1 + 2 * BEYOND)}
				className="pointer-events-none absolute block"
				style={{ left: -width * BEYOND, top: -height * BEYOND }}
				aria-hidden
			>
				{children(beyond(frame, width, height))}
			</svg>
		</div>
	);
}
