import type { Schemas } from "../api/client";

/** The vehicle from above, front to the left: picks a side, and shows which have work on them. */
export function PlanView({
	sides,
	chosen,
	onChoose,
}: {
	sides: Schemas["SideSummary"][];
	chosen: string | undefined;
	onChoose: (id: string) => void;
}) {
	const of = (which: "left" | "right") => sides.find((s) => s.drawing.side === which);
	const button = (side: Schemas["SideSummary"] | undefined) =>
		side && (
			<button
				type="button"
				role="radio"
				aria-checked={side.id === chosen}
				onClick={() => onChoose(side.id)}
				className={`flex h-11 items-center gap-2 rounded px-3 ${
					side.id === chosen ? "bg-spruce font-bold text-white" : "border border-line bg-paper"
				}`}
			>
				{side.name}
				{side.pieces > 0 && (
					<span className={`hidden xl:inline ${side.id === chosen ? "text-[#cfe3dc]" : "text-soft"}`}>
						{side.pieces} {side.pieces === 1 ? "piece" : "pieces"}
					</span>
				)}
			</button>
		);
	const [left, right] = [of("left"), of("right")];
	const bar = (side: Schemas["SideSummary"] | undefined) =>
		side?.id === chosen ? "#14524d" : side?.pieces ? "#8fa8a2" : "#c9c4b1";
	return (
		<div role="radiogroup" aria-label="Which side" className="flex items-center gap-2">
			{button(left)}
			<svg width={92} height={44} viewBox="0 0 92 44" aria-hidden className="hidden xl:block">
				<path d="M20 10h66v24H20z" fill="#fdfcf7" stroke="#1b2628" />
				<path d="M20 12 8 16v12l12 4z" fill="#e9e6da" stroke="#1b2628" />
				<rect x={20} y={3} width={66} height={6} fill={bar(right)} />
				<rect x={20} y={35} width={66} height={6} fill={bar(left)} />
			</svg>
			{button(right)}
		</div>
	);
}
