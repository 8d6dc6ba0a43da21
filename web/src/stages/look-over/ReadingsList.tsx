import type { Schemas } from "../../api/client";
import { LengthField } from "../../readings/LengthField";
import { Button } from "../../ui/parts";

type Reading = Schemas["Reading"];

/** A line or outline by readings, point by point. */
export function ReadingsList({
	readings,
	printed,
	root,
	datum,
	onSave,
}: {
	readings: Reading[];
	printed: Record<string, string>;
	/** Path of the readings among the printed lengths. */
	root: string;
	datum: string;
	onSave: (readings: unknown[]) => Promise<unknown>;
}) {
	const change = (n: number, part: Record<string, unknown>) =>
		onSave(readings.map((r, i) => (i === n ? { ...r, ...part } : r)));
	return (
		<ol className="flex flex-col gap-2">
			{readings.map((r, n) => (
				<li key={n} className="flex flex-wrap items-end gap-3">
					<span className="w-6 pb-2.5 text-right font-bold">{n + 1}</span>
					<div className="w-36">
						<LengthField
							label="Back"
							printed={printed[`${root}/${n}/back_mm`]}
							onCommit={(text) => change(n, { back_mm: text })}
						/>
					</div>
					<div className="w-36">
						<LengthField
							label={`Below the ${datum}`}
							printed={printed[`${root}/${n}/drop_mm`]}
							onCommit={(text) => change(n, { drop_mm: text })}
						/>
					</div>
					<label className="flex h-11 items-center gap-2">
						<input
							type="checkbox"
							checked={r.rounded ?? false}
							onChange={(e) => change(n, { rounded: e.target.checked })}
							className="h-6 w-6 accent-spruce"
						/>
						rounded
					</label>
					<Button
						className="px-3"
						onClick={() => {
							const next = readings[(n + 1) % readings.length] ?? r;
							const between = {
								back_mm: (Number(r.back_mm) + Number(next.back_mm)) / 2,
								drop_mm: (Number(r.drop_mm) + Number(next.drop_mm)) / 2,
								rounded: false,
							};
							onSave([...readings.slice(0, n + 1), between, ...readings.slice(n + 1)]);
						}}
					>
						One after it
					</Button>
					<Button
						className="px-3"
						disabled={readings.length <= 2}
						onClick={() => onSave(readings.filter((_, i) => i !== n))}
					>
						Leave out
					</Button>
				</li>
			))}
		</ol>
	);
}
