import type { Schemas } from "../../api/client";
import { bind } from "../../readings/bound";
import { Button, Choice } from "../../ui/parts";
import type { Editable, Place } from "./pieces";

type ByPoints = Extract<Place, { by: "points" }>;

/** Points of a piece, each with where it was measured on the body. */
export function Points({
	side,
	piece,
	planned,
	place,
	save,
	tell,
}: {
	side: Schemas["SideView"];
	piece: Editable;
	planned: Schemas["PieceView"];
	place: ByPoints;
	save: (next: Place) => Promise<unknown>;
	tell: (work: Promise<unknown>) => Promise<unknown>;
}) {
	const change = (points: Schemas["PointReading"][]) => save({ ...place, points });
	const point = (n: number, part: Partial<Schemas["PointReading"]>) =>
		change(place.points.map((p, k) => (k === n ? { ...p, ...part } : p)));
	const printed = Object.fromEntries(
		Object.entries(piece.printed).map(([path, text]) => [path.replace(/^\/place/, ""), text]),
	);
	const fields = bind<ByPoints>(place, printed, save, tell);
	const nameOf = (at: number[]) =>
		planned.named_points.find(
			(p) => Math.abs((p.at[0] ?? 0) - (at[0] ?? 0)) < 0.05 && Math.abs((p.at[1] ?? 0) - (at[1] ?? 0)) < 0.05,
		)?.name;
	return (
		<ol className="grid gap-2 @lg:col-span-2 @4xl:col-span-4">
			{place.points.map((p, n) => (
				<li key={n} aria-label={`Point ${n + 1}`} className="grid gap-3 rounded bg-paper p-3 @lg:grid-cols-5">
					<Choice
						label={`Point ${n + 1} of the piece`}
						value={nameOf(p.at) ?? "elsewhere"}
						options={[
							...planned.named_points.map((named) => ({ value: named.name, text: named.name })),
							...(nameOf(p.at) ? [] : [{ value: "elsewhere", text: "elsewhere" }]),
						]}
						onChange={(name) => {
							const at = planned.named_points.find((named) => named.name === name)?.at;
							if (at) tell(point(n, { at }));
						}}
					/>
					{fields.length(`/points/${n}/back_mm`, `From the ${side.edges.zero}`)}
					{fields.length(`/points/${n}/drop_mm`, `Down from the ${side.spec.rail}`)}
					<label className="flex h-11 items-center gap-3 self-end">
						<input
							type="checkbox"
							checked={p.pinned ?? false}
							onChange={(e) =>
								tell(
									change(place.points.map((q, k) => ({ ...q, pinned: k === n ? e.target.checked : false }))),
								)
							}
							className="h-6 w-6 accent-spruce"
						/>
						Must fit exactly
					</label>
					{place.points.length > 2 && (
						<Button className="self-end" onClick={() => tell(change(place.points.filter((_, k) => k !== n)))}>
							Take point {n + 1} out
						</Button>
					)}
				</li>
			))}
			<Button
				className="justify-self-start"
				onClick={() => {
					const last = place.points.at(-1);
					const at = planned.named_points.find((p) => !place.points.some((q) => nameOf(q.at) === p.name))?.at;
					if (last && at) tell(change([...place.points, { ...last, at, pinned: false }]));
				}}
			>
				Measure another point
			</Button>
		</ol>
	);
}
