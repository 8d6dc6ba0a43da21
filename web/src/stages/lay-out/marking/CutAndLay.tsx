import { TroubleNote } from "../../../ui/parts";
import { FromRoll, useTapeRolls } from "./FromRoll";
import type { Found } from "./types";

/** What is cut from which tape, in order, and what is then done. */
export function CutAndLay({ side, found }: { side: string; found: Found }) {
	const rolls = useTapeRolls(side);
	return (
		<div className="grid grid-cols-[minmax(0,1fr)] gap-4">
			<section aria-label="Cut list" className="rounded bg-paper p-4">
				<h3 className="font-bold text-xl">Cut in this order</h3>
				{rolls.data?.lots.map((lot) => (
					<TroubleNote key={lot}>{lot}</TroubleNote>
				))}
				{found.cuts.map((list) => (
					<div key={list.name} className="mt-2">
						<p>
							<strong>{list.name}</strong>: <b className="font-reading">{list.used.text}</b> on the vehicle,{" "}
							<b className="font-reading">{list.waste.text}</b> left over
							{list.pre_cut != null && `, ${list.pre_cut} strips`}.{" "}
							{list.proven
								? "No order of cuts leaves less."
								: `Not proven least: no order leaves less than ${list.least_waste.text}.`}
						</p>
						<div className="overflow-x-auto">
							<table className="w-full text-left">
								<thead>
									<tr className="border-soft border-b-2">
										<th className="p-1">For</th>
										<th className="p-1">Length</th>
										<th className="p-1">Colours</th>
										<th className="p-1">Goes</th>
										<th className="p-1">Lies</th>
										<th className="p-1">First pass over</th>
									</tr>
								</thead>
								<tbody>
									{list.cuts.map((c, n) => (
										<tr key={n} className="border-line border-b align-top">
											<td className="p-1 font-bold">{c.strip}</td>
											<td className="p-1 font-bold font-reading">{c.length.text}</td>
											<td className="p-1">
												{c.colours}
												{c.done && <b>; {c.done}</b>}
											</td>
											<td className="p-1">{c.goes}</td>
											<td className={`p-1 ${c.way.includes("turn") ? "font-bold" : ""}`}>{c.way}</td>
											<td className="p-1 font-reading">{c.skipped?.text ?? "–"}</td>
										</tr>
									))}
								</tbody>
							</table>
						</div>
						<FromRoll side={side} tape={list.name} found={rolls} />
					</div>
				))}
			</section>
			<section aria-label="Order of work" className="rounded bg-paper p-4">
				<h3 className="font-bold text-xl">Then</h3>
				<ol>
					{found.steps.map((s, n) => (
						<li key={s} className="flex gap-3 border-line border-t py-2 text-lg">
							<strong className="text-xl">{n + 1}</strong>
							{s}
						</li>
					))}
				</ol>
			</section>
		</div>
	);
}
