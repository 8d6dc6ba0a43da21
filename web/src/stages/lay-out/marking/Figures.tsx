import { useQuery } from "@tanstack/react-query";
import { ask, client, type Schemas } from "../../../api/client";
import { TextField } from "../../../readings/TextField";
import { TroubleNote } from "../../../ui/parts";
import { useShopSend } from "./shop";

const SURE: Record<Schemas["Confidence"], string> = {
	sure: "sure",
	probable: "probably right",
	lead: "a lead only: check it",
};
const MEASURE: Record<Schemas["Measure"], string> = { mm: "mm", kg: "kg", share: "share, 0 to 1" };

/** The figures of a set of rules as they are recalled, and what the shop uses in their place. */
export function Figures({ set }: { set: Schemas["RuleSet"] }) {
	const rules = useQuery({ queryKey: ["rules"], queryFn: () => ask(client.GET("/api/rules")) });
	const { wrong, send } = useShopSend("rules");
	const shown = rules.data?.sets.find((s) => s.set === set);
	const correct = (figure: Schemas["FigureView"], typed: string) => {
		const value = typed.trim() ? Number(typed) : null;
		if (value !== null && !Number.isFinite(value)) {
			throw new Error(
				`“${typed}” is no figure. Type a number, or leave it empty to go back to what is recalled.`,
			);
		}
		return send(
			ask(
				client.PUT("/api/rules/{set}/{figure}", {
					params: { path: { set, figure: figure.figure.key } },
					body: { seen: figure.used ?? null, value },
				}),
			),
		);
	};
	return (
		<section aria-label="Figures of the rules" className="rounded bg-paper p-4">
			<h3 className="font-bold text-xl">{shown?.name}</h3>
			<p className="font-bold">{shown?.from_memory}</p>
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
			<ul>
				{shown?.figures.map((f) => (
					<li
						key={f.figure.key}
						className="grid items-end gap-x-4 gap-y-1 border-line border-t py-2 @lg:grid-cols-[1fr_9rem_12rem]"
					>
						<p>
							{f.figure.says} <span className="text-soft">({f.figure.clause})</span>
							<br />
							<span className={f.figure.confidence === "lead" ? "font-bold" : "text-soft"}>
								{SURE[f.figure.confidence]}
							</span>
						</p>
						<p className="pb-2 font-bold font-reading text-lg">
							{Math.round(f.figure.value * 1000) / 1000}{" "}
							{f.figure.measure === "share" ? "" : MEASURE[f.figure.measure]}
						</p>
						<TextField
							label={`The shop's own, ${MEASURE[f.figure.measure]}`}
							value={f.used == null ? "" : String(f.used)}
							onCommit={(typed) => correct(f, typed)}
						/>
					</li>
				))}
			</ul>
		</section>
	);
}
