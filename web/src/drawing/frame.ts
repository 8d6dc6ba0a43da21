import { useLayoutEffect, useRef, useState } from "react";
import type { Schemas } from "../api/client";

export type Point = readonly [number, number];
export type Drawing = Schemas["SideDrawing"];

/** How mm in the picture frame become pixels: scale in px per mm, and the mm at the upper left. */
export type Frame = { scale: number; x: number; y: number };

export const px = (frame: Frame, [x = 0, y = 0]: readonly number[] = []): Point => [
	(x - frame.x) * frame.scale,
	(y - frame.y) * frame.scale,
];

export const mm = (frame: Frame, [x = 0, y = 0]: readonly number[] = []): Point => [
	frame.x + x / frame.scale,
	frame.y + y / frame.scale,
];

/** Room round the body for the tape above it, the chain below it and the word FRONT beside it, px. */
export const ROOM = { left: 34, right: 34, top: 48, bottom: 58 };

/** The largest frame that shows the body within this width and height, its pixel size, room included. */
export function fit(drawing: Drawing, width: number, height: number) {
	const [x, y, w, h] = drawing.bounds as [number, number, number, number];
	const scale = Math.max(
		0.001,
		Math.min((width - ROOM.left - ROOM.right) / w, (height - ROOM.top - ROOM.bottom) / h),
	);
	const spare = (width - ROOM.left - ROOM.right - w * scale) / 2;
	const frame: Frame = { scale, x: x - (ROOM.left + spare) / scale, y: y - ROOM.top / scale };
	return { frame, height: h * scale + ROOM.top + ROOM.bottom };
}

/** A point on a datum (its zero and its end), so far back from its zero. */
export function onDatum(datum: number[][], backMm: number): Point {
	const [[x0, y0], [x1, y1]] = datum as [[number, number], [number, number]];
	const length = Math.hypot(x1 - x0, y1 - y0);
	return [x0 + ((x1 - x0) * backMm) / length, y0 + ((y1 - y0) * backMm) / length];
}

/** The width of an element, followed as it changes. */
export function useWidth() {
	const ref = useRef<HTMLDivElement>(null);
	const [width, setWidth] = useState(0);
	useLayoutEffect(() => {
		const element = ref.current;
		if (!element) return;
		const observer = new ResizeObserver(([entry]) => setWidth(entry?.contentRect.width ?? 0));
		observer.observe(element);
		setWidth(element.clientWidth);
		return () => observer.disconnect();
	}, []);
	return [ref, width] as const;
}

/** About how wide a reading is in its monospaced face, px. */
export const readingWidth = (text: string, size: number) =>
	(text.length - (text.split(" ").length - 1) * 0.48) * size * 0.63;
