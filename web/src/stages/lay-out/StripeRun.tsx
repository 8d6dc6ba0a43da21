import { useState } from "react";
import { type Schemas, told } from "../../api/client";
import { type Editing, useJob } from "../../api/queries";
import { LengthField } from "../../readings/LengthField";
import { Button, Choice, TroubleNote } from "../../ui/parts";
import { PLAIN_STRIPE } from "./pieces";

/** One stripe, or a pair, over several body parts as one line: along the vehicle's centreline, or by its distance from a rail. */
export function StripeRun({
	side,
	editing,
	onLaid,
}: {
	side: Schemas["SideView"];
	editing: Editing;
	onLaid: () => void;
}) {
	const job = useJob(side.job);
	const [chosen, setChosen] = useState<string[]>([side.id]);
	const [centre, setCentre] = useState(side.spec.facing === "up");
	const [pair, setPair] = useState(true);
	const metric = side.unit === "millimetre";
	const [first, setFirst] = useState(metric ? "300 mm" : "12");
	const [last, setLast] = useState(metric ? "300 mm" : "12");
	const [width, setWidth] = useState(metric ? "200 mm" : "8");
	const [rear, setRear] = useState(metric ? "200 mm" : "8");
	const [between, setBetween] = useState(metric ? "25 mm" : "1");
	const [gap, setGap] = useState("0");
	const [wrap, setWrap] = useState("0");
	const [wrong, setWrong] = useState<string | null>(null);
	const lay = async () => {
		const band = (gap_mm: string) => ({ gap_mm, front_width_mm: width, rear_width_mm: rear });
		const body: Schemas["StripeRun"] = {
			sides: chosen,
			gaps_mm: [],
			centre,
			first_drop_mm: first,
			last_drop_mm: last,
			end_gap_mm: gap,
			stripe: { ...PLAIN_STRIPE, wrap_mm: wrap, bands: [band("0"), ...(pair ? [band(between)] : [])] },
		};
		try {
			// Lengths go as they were typed; the server reads them.
			await editing.stripeRun(body);
			onLaid();
		} catch (error) {
			setWrong(told(error));
		}
	};
	const keep = (set: (text: string) => void) => async (typed: string) => set(typed);
	const least = centre ? 1 : 2;
	return (
		<div className="grid gap-3">
			<fieldset className="grid gap-1">
				<legend className="text-soft">
					Body parts from front to rear, in the order in which they are ticked
				</legend>
				{job.data?.sides.map((s) => (
					<label key={s.id} className="flex min-h-11 items-center gap-3">
						<input
							type="checkbox"
							checked={chosen.includes(s.id)}
							onChange={(e) =>
								setChosen(e.target.checked ? [...chosen, s.id] : chosen.filter((c) => c !== s.id))
							}
							className="h-6 w-6 accent-spruce"
						/>
						{chosen.includes(s.id) && <strong>{chosen.indexOf(s.id) + 1}</strong>}
						{s.name}, {s.length}
					</label>
				))}
			</fieldset>
			<div className="grid gap-3 @lg:grid-cols-2">
				<Choice
					label="The line is measured from"
					value={centre ? "centre" : "rail"}
					options={[
						{ value: "centre", text: "the vehicle's centreline" },
						{ value: "rail", text: "each part's own rail" },
					]}
					onChange={(from) => setCentre(from === "centre")}
				/>
				<Choice
					label="Stripes"
					value={pair ? "pair" : "one"}
					options={[
						{ value: "one", text: "one" },
						{ value: "pair", text: "a pair, the same on both sides of the line" },
					]}
					onChange={(n) => setPair(n === "pair")}
				/>
				{!centre && (
					<>
						<LengthField
							label="Its middle lies down, at the very front"
							printed={first}
							onCommit={keep(setFirst)}
						/>
						<LengthField label="and at the very rear" printed={last} onCommit={keep(setLast)} />
					</>
				)}
				<LengthField label="Width at the very front" printed={width} onCommit={keep(setWidth)} />
				<LengthField label="Width at the very rear" printed={rear} onCommit={keep(setRear)} />
				{pair && <LengthField label="Gap between the two" printed={between} onCommit={keep(setBetween)} />}
				<LengthField label="Short of every part's edge by" printed={gap} onCommit={keep(setGap)} />
				<LengthField label="Film to wrap round every edge" printed={wrap} onCommit={keep(setWrap)} />
			</div>
			<p className="text-soft">
				Gaps between the parts are taken as closed: measure along the skin. The readings at both ends of each
				part then prove that it lies in the middle.
			</p>
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
			<Button look="next" onClick={lay} disabled={chosen.length < least} className="justify-self-start">
				{chosen.length === 1 ? "Lay it over this part" : `Lay it over ${chosen.length} parts`}
			</Button>
		</div>
	);
}
