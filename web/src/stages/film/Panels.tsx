import { type UseQueryResult, useQuery } from "@tanstack/react-query";
import { ask, client, type Schemas } from "../../api/client";
import type { Editing } from "../../api/queries";
import { type Frame, px } from "../../drawing/frame";
import { NumberDisc } from "../../drawing/NumberDisc";
import { ReliefLines } from "../../drawing/ReliefLines";
import { useSaving } from "../../job/Conflict";
import { useTelling } from "../../job/useTelling";
import { Button, TroubleNote, Waiting } from "../../ui/parts";

/** A print in panels on the widest roll of its film. */
export const usePanels = (piece: string | undefined) =>
	useQuery({
		queryKey: ["film", "panels", piece],
		enabled: piece !== undefined,
		queryFn: () => ask(client.GET("/api/pieces/{id}/panels", { params: { path: { id: piece ?? "" } } })),
	});

const points = (corners: number[][], frame: Frame) =>
	corners.map(([x = 0, y = 0]) => px(frame, [x, y]).join()).join(" ");

/** Panels over the picture: each lap as a band, each panel with its number. */
export function PanelMap({ plan, frame }: { plan: Schemas["PanelPlan"]; frame: Frame }) {
	return (
		<g pointerEvents="none" data-testid="panel-map">
			{plan.joins.map((j) => (
				<polygon
					key={j.under}
					points={points(j.corners, frame)}
					fill="var(--color-tape)"
					fillOpacity={0.75}
					stroke={j.meets.length > 0 ? "var(--color-trouble)" : "var(--color-ink)"}
					strokeWidth={j.meets.length > 0 ? 3 : 1}
				/>
			))}
			<ReliefLines cuts={plan.panels.flatMap((p) => p.relief)} frame={frame} />
			{plan.panels.length > 1 &&
				plan.panels.map((p) => {
					const [a, , c] = p.corners as [number[], number[], number[], number[]];
					const [x, y] = px(frame, [((a[0] ?? 0) + (c[0] ?? 0)) / 2, ((a[1] ?? 0) + (c[1] ?? 0)) / 2]);
					// On a long vehicle in a small picture discs keep within their panels.
					const [x0, y0] = px(frame, [a[0] ?? 0, a[1] ?? 0]);
					const radius = Math.max(7, Math.min(17, Math.abs(x - x0) - 1, Math.abs(y - y0) - 1));
					return (
						<g key={p.number}>
							<polygon
								points={points(p.corners, frame)}
								fill="none"
								stroke="var(--color-ink)"
								strokeDasharray="7 4"
							/>
							<NumberDisc x={x} y={y} number={p.number} radius={radius} />
						</g>
					);
				})}
		</g>
	);
}

/** How a print is split, and what each join meets. */
export function PanelsPart({
	found,
	piece,
	row,
	editing,
	onMade,
	unit,
}: {
	found: UseQueryResult<Schemas["PanelsView"], Error>;
	piece: string;
	row: Schemas["PieceView"] | undefined;
	editing: Editing;
	onMade: () => void;
	unit: Schemas["Unit"];
}) {
	const { wrong, tell } = useTelling();
	const { save, dialog } = useSaving(editing, unit);
	const view = found.data;
	if (!view) return <Waiting what="the panels" error={found.error} />;
	const { best, other, other_refused } = view.panels;
	return (
		<div className="grid grid-cols-[minmax(0,1fr)] gap-3 @4xl:grid-cols-2">
			<section aria-label="Panels" className="rounded bg-paper p-4">
				<h3 className="font-bold text-xl">
					{best.panels.length === 1
						? "In one, no join"
						: `${best.panels.length} panels${
								best.parts.length > 1
									? ` in ${best.parts.length} parts`
									: best.stand === "upright"
										? ", upright"
										: ", lying"
							}`}
				</h3>
				<ul>
					{best.says.map((s) => (
						<li key={s}>{s}</li>
					))}
				</ul>
				{row && best.panels.length > 1 && (
					<div className="mt-2">
						<Button onClick={() => void tell(editing.intoPanels(row).then(onMade))}>
							Lay it out in these panels
						</Button>
						<p className="text-soft">
							Each is then hung, laid down and recorded by itself. One undo makes it one again.
						</p>
						{wrong && <TroubleNote>{wrong}</TroubleNote>}
					</div>
				)}
				<a
					href={`/api/pieces/${piece}/panels/map.pdf`}
					className="mt-2 inline-flex min-h-11 items-center rounded border border-soft bg-paper px-4"
				>
					Panel map on one page (PDF)
				</a>
				<table className="mt-2 w-full">
					<thead className="text-left text-soft">
						<tr>
							<th className="font-normal">panel</th>
							<th className="font-normal">wide</th>
							<th className="font-normal">high, with bleed</th>
							<th className="font-normal">file, full size</th>
						</tr>
					</thead>
					<tbody className="font-bold font-reading">
						{best.panels.map((p) => (
							<tr key={p.number} className="border-line border-t">
								<td className="py-1">{p.number}</td>
								<td className="pr-3">{p.width.text}</td>
								<td className="pr-3">{p.height.text}</td>
								<td className="font-normal font-words">
									{(["pdf", "svg"] as const).map((kind) => (
										<a
											key={kind}
											href={`/api/pieces/${piece}/panels/${p.number}/${kind}`}
											aria-label={`Panel ${p.number} as ${kind.toUpperCase()}`}
											className="mr-2 inline-flex min-h-11 items-center underline"
										>
											{kind.toUpperCase()}
										</a>
									))}
								</td>
							</tr>
						))}
					</tbody>
				</table>
			</section>
			<section aria-label="Joins" className="rounded bg-paper p-4">
				<h3 className="font-bold text-xl">{best.joins.length === 0 ? "No join" : "Joins"}</h3>
				<p>
					On a roll <b className="font-reading">{view.roll.text}</b> wide, of which{" "}
					<b className="font-reading">{view.printable.text}</b> can be printed. Lap{" "}
					<b className="font-reading">{view.lap.text}</b>: {view.lap_from}.
				</p>
				{view.coarse && (
					<p className={view.coarse.too_coarse ? "font-bold text-trouble" : ""}>
						{view.coarse.too_coarse
							? `! Its picture has ${view.coarse.told}; the shop prints from ${view.coarse.least}. It looks coarse from near.`
							: `Its picture has ${view.coarse.told}.`}
					</p>
				)}
				<ol className="mt-1">
					{best.joins.map((j) => (
						<li key={j.under} className="border-line border-t py-1">
							<b className="font-reading">{j.at.text}</b> from {j.from}, panel {j.under + 1} over {j.under}:{" "}
							{j.meets.length === 0 ? "✓ clear." : <b>! {j.meets.join(" ")}</b>}
						</li>
					))}
				</ol>
				{row && <Parting view={view} onPart={(parted_at) => tell(save(...withWork(row, { parted_at })))} />}
				{other && row && (
					<Button className="mt-2" onClick={() => void tell(save(...withWork(row, { stand: other.stand })))}>
						{other.stand === "upright" ? "Let them stand upright" : "Let them lie"}
					</Button>
				)}
				{other && (
					<p className="mt-2 text-soft">
						{other.stand === "upright" ? "Upright" : "Lying"} it would be{" "}
						{other.panels.length === 1 ? "one" : `${other.panels.length} panels`}
						{other.joins.some((j) => j.meets.length > 0)
							? `; ${other.joins.filter((j) => j.meets.length > 0).length} of its joins meet something`
							: ""}
						.
					</p>
				)}
				{other_refused && <p className="mt-2 text-soft">The other way round: {other_refused}</p>}
			</section>
			<Relief panels={best.panels} />
			{dialog}
		</div>
	);
}

/** What is saved where a piece's work is settled otherwise. */
const withWork = (row: Schemas["PieceView"], work: Partial<Schemas["Work"]>) =>
	[
		{ kind: "piece" as const, id: row.id, revision: row.revision },
		row.spec,
		{ ...row.spec, work: { ...(row.spec.work ?? { crew: 1 }), ...work } },
	] as const;

/** Gaps of doors that the print crosses: parted at them, each part is printed by itself and has film to be turned in. */
function Parting({
	view,
	onPart,
}: {
	view: Schemas["PanelsView"];
	onPart: (at: Schemas["GapAt"][]) => Promise<unknown>;
}) {
	if (view.gaps.length === 0) return null;
	const parted = view.gaps.filter((g) => g.parted);
	const at = (gaps: Schemas["PrintGap"][]) => gaps.map(({ feature, number }) => ({ feature, number }));
	return (
		<fieldset className="mt-3 border-line border-t pt-2">
			<legend className="sr-only">Gaps that the print crosses</legend>
			<p>
				{parted.length === 0
					? "In one over a gap it is cut down the middle once it lies. Parted there, each part is printed by itself, with film to be turned in:"
					: "Parted at a gap, each part is printed by itself, with film to be turned in:"}
			</p>
			<div className="mt-1 flex flex-wrap gap-2">
				{view.gaps.map((g) => (
					<button
						key={`${g.feature} ${g.number}`}
						type="button"
						aria-pressed={g.parted}
						onClick={() => void onPart(at(g.parted ? parted.filter((p) => p !== g) : [...parted, g]))}
						className={`min-h-11 rounded border px-4 ${
							g.parted ? "border-measure bg-measure font-bold text-white" : "border-soft bg-paper"
						}`}
					>
						{g.parted ? `Parted at ${g.name}` : `Part it at ${g.name}`}
					</button>
				))}
			</div>
		</fieldset>
	);
}

/** Relief cuts round what stays on, panel by panel. */
function Relief({ panels }: { panels: Schemas["CutPanel"][] }) {
	const cuts = panels.flatMap((p) => p.relief.map((r) => ({ panel: p.number, ...r })));
	if (cuts.length === 0) return null;
	return (
		<section aria-label="Relief cuts" className="rounded bg-paper p-4 @4xl:col-span-2">
			<h3 className="font-bold text-xl">Relief cuts</h3>
			<p className="text-soft">
				Round what stays on. Cut on a mat, never on the vehicle; the blade away from the hand that holds.
			</p>
			<ul className="mt-1">
				{cuts.map((c) => (
					<li key={`${c.panel} ${c.name}`} className="border-line border-t py-1">
						<b>
							{panels.length > 1 ? `Panel ${c.panel}, ` : ""}
							{c.name}
						</b>
						{": "}
						{c.says} {c.meets.length > 0 && <b>! {c.meets.join(" ")}</b>}
					</li>
				))}
			</ul>
		</section>
	);
}
