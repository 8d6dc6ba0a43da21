import type { Schemas } from "../api/client";
import { type Frame, px } from "./frame";

/** Relief cuts over the picture, seen on any print. */
export function ReliefLines({ cuts, frame }: { cuts: Schemas["ReliefCut"][]; frame: Frame }) {
	return cuts.flatMap((cut) =>
		cut.lines.map((line) => {
			const points = line.map((p) => px(frame, p).join()).join(" ");
			return (
				<g key={`${cut.name} ${points}`} fill="none" pointerEvents="none" data-testid="relief-cut">
					<polyline points={points} stroke="var(--color-paper)" strokeWidth={7} />
					<polyline points={points} stroke="var(--color-trouble)" strokeWidth={3} />
				</g>
			);
		}),
	);
}
