import type { Schemas } from "../api/client";
import { Choice } from "../ui/parts";

const SIZE = { width: 112, height: 36 };

/** The vehicle from above, front to the left, drawn from its own measurements: picks a side, and shows which have work on them. */
export function PlanView({
	plan,
	sides,
	chosen,
	onChoose,
	onAdd,
}: {
	plan: Schemas["VehiclePlan"];
	sides: Schemas["SideSummary"][];
	chosen: string | undefined;
	onChoose: (id: string) => void;
	onAdd: () => void;
}) {
	const all = [...plan.body, ...plan.sides.flatMap((s) => s.corners)];
	const [xs, ys] = [all.map((p) => p[0] ?? 0), all.map((p) => p[1] ?? 0)];
	const [x0, x1, y0, y1] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
	const scale = Math.min((SIZE.width - 4) / (x1 - x0), (SIZE.height - 4) / (y1 - y0));
	const points = (corners: number[][]) =>
		corners
			.map(
				([x = 0, y = 0]) =>
					`${SIZE.width / 2 + (x - (x0 + x1) / 2) * scale},${SIZE.height / 2 + (y - (y0 + y1) / 2) * scale}`,
			)
			.join(" ");
	const named = (id: string) => sides.find((s) => s.id === id);
	return (
		<div className="flex min-w-0 flex-1 items-center gap-2">
			<svg width={SIZE.width} height={SIZE.height} aria-hidden className="hidden lg:block">
				<polygon
					points={points(plan.body)}
					fill="var(--color-paper)"
					stroke="var(--color-ink)"
					strokeWidth={1.2}
				/>
				{plan.sides.map(({ id, corners }) => {
					const side = named(id);
					const fill =
						id === chosen
							? "var(--color-spruce)"
							: side?.pieces
								? "var(--color-worked)"
								: "var(--color-unworked)";
					return (
						// biome-ignore lint/a11y/noStaticElementInteractions: for the pointer only; the list beside it is the same choice by keyboard
						<polygon
							key={id}
							points={points(corners)}
							fill={fill}
							stroke={id === chosen ? "var(--color-spruce-dark)" : "var(--color-edge)"}
							strokeWidth={1}
							className="cursor-pointer"
							onClick={() => onChoose(id)}
						>
							<title>{side?.name}</title>
						</polygon>
					);
				})}
			</svg>
			<div className="w-full min-w-0 max-w-44 lg:w-44 [&_button]:h-9 [&_span.text-soft]:sr-only">
				<Choice
					label="Which side"
					value={chosen ?? ""}
					onChange={(id) => (id === ADD ? onAdd() : onChoose(id))}
					options={[
						...sides.map((s) => ({
							value: s.id,
							text: s.name,
							note: s.pieces > 0 ? `${s.pieces} ${s.pieces === 1 ? "piece" : "pieces"}` : s.length,
						})),
						{ value: ADD, text: "Add a side …" },
					]}
				/>
			</div>
		</div>
	);
}

const ADD = "add";
