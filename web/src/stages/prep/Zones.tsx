import type { Schemas } from "../../api/client";
import { type Frame, px } from "../../drawing/frame";

/** The zones that a side is cleaned in, with their numbers, those ticked where the step at hand is done. */
export function Zones({
	view,
	step,
	frame,
}: {
	view: Schemas["PrepView"];
	step: Schemas["StepTick"] | undefined;
	frame: Frame;
}) {
	return (
		<g pointerEvents="none">
			{view.zones.map((z) => {
				const [x, y, w, h] = z.bounds as [number, number, number, number];
				const [left, top] = px(frame, [x, y]);
				const [right, foot] = px(frame, [x + w, y + h]);
				const done = step?.by_zone && step.zones.includes(z.number);
				return (
					<g key={z.number} data-testid="zone">
						<rect
							x={left}
							y={top}
							width={right - left}
							height={foot - top}
							fill={done ? "var(--color-good)" : "none"}
							fillOpacity={0.15}
							stroke="var(--color-ink)"
							strokeDasharray="4 6"
						/>
						<text
							x={(left + right) / 2}
							y={(top + foot) / 2}
							textAnchor="middle"
							dominantBaseline="central"
							fontSize={22}
							fontWeight={700}
							fill="var(--color-ink)"
							stroke="var(--color-sheet)"
							strokeWidth={4}
							paintOrder="stroke"
						>
							{done ? "✓ " : ""}
							{z.number}
						</text>
					</g>
				);
			})}
		</g>
	);
}
