import type { PointerEvent, ReactNode } from "react";
import type { Schemas } from "../api/client";
import { type Frame, useWidth } from "./frame";
import { Scene } from "./Scene";

/** A part of a side, as large as it fits, with whatever is drawn over it in pixels. */
export function Closeup({
	side,
	pieces,
	points,
	maxHeight,
	label,
	room = 24,
	film = 1,
	children,
	pointer,
}: {
	side: Schemas["SideView"];
	pieces: Schemas["PieceView"][];
	/** What must be seen, mm. */
	points: readonly (readonly number[])[];
	maxHeight: number;
	label: string;
	room?: number;
	/** How strong film is drawn, 0 to 1. */
	film?: number;
	children: (frame: Frame, size: { width: number; height: number }) => ReactNode;
	pointer?: (frame: Frame) => {
		onPointerDown: (event: PointerEvent<SVGSVGElement>) => void;
		onPointerMove: (event: PointerEvent<SVGSVGElement>) => void;
		onPointerUp: (event: PointerEvent<SVGSVGElement>) => void;
		onPointerCancel: (event: PointerEvent<SVGSVGElement>) => void;
	};
}) {
	const [ref, width] = useWidth();
	const xs = points.map((p) => p[0] ?? 0);
	const ys = points.map((p) => p[1] ?? 0);
	const [x0, x1, y0, y1] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
	const scale = Math.min(
		Math.max(width - 2 * room, 200) / Math.max(x1 - x0, 1),
		(maxHeight - 2 * room) / Math.max(y1 - y0, 1),
	);
	const height = Math.max((y1 - y0) * scale + 2 * room, 120);
	const spare = (width - (x1 - x0) * scale) / 2;
	const above = (height - (y1 - y0) * scale) / 2;
	const frame: Frame = { scale, x: x0 - spare / scale, y: y0 - above / scale };
	return (
		<div ref={ref} className="w-full overflow-hidden rounded border border-soft">
			{width > 0 && (
				<svg
					width={width}
					height={height}
					role="img"
					aria-label={label}
					className={`block bg-paper ${pointer ? "touch-none" : ""}`}
					{...pointer?.(frame)}
				>
					<Scene drawing={side.drawing} pieces={[]} frame={frame} />
					<g
						transform={`scale(${frame.scale}) translate(${-frame.x} ${-frame.y})`}
						opacity={film}
						pointerEvents="none"
					>
						{pieces.flatMap((piece) =>
							piece.layers.map((layer) => (
								<path key={piece.id + layer.kind} d={layer.film} fill={layer.colour} fillRule="evenodd" />
							)),
						)}
					</g>
					{children(frame, { width, height })}
				</svg>
			)}
		</div>
	);
}
