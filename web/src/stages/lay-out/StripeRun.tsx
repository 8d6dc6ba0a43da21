import { useState } from "react";
import { type Schemas, told } from "../../api/client";
import { type Editing, useJob } from "../../api/queries";
import { LengthField } from "../../readings/LengthField";
import { Button, TroubleNote } from "../../ui/parts";
import { firstPiece, type Stripe } from "./pieces";

/** One stripe over several body parts, such as hood, roof and tail, as one line. */
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
	const metric = side.unit === "millimetre";
	const [first, setFirst] = useState(metric ? "300 mm" : "12");
	const [last, setLast] = useState(metric ? "300 mm" : "12");
	const [width, setWidth] = useState(metric ? "75 mm" : "3");
	const [gap, setGap] = useState(metric ? "6 mm" : "1/4");
	const [wrong, setWrong] = useState<string | null>(null);
	const lay = async () => {
		const stripe = firstPiece("stripe", side).art as Stripe;
		const body: Schemas["StripeRun"] = {
			sides: chosen,
			gaps_mm: [],
			first_drop_mm: first,
			last_drop_mm: last,
			end_gap_mm: gap,
			stripe: { ...stripe, bands: [{ gap_mm: 0, front_width_mm: width, rear_width_mm: width }] },
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
				<LengthField
					label="Its middle lies down, at the very front"
					printed={first}
					onCommit={keep(setFirst)}
				/>
				<LengthField label="and at the very rear" printed={last} onCommit={keep(setLast)} />
				<LengthField label="Width of the stripe" printed={width} onCommit={keep(setWidth)} />
				<LengthField label="Margin at both ends of every part" printed={gap} onCommit={keep(setGap)} />
			</div>
			<p className="text-soft">Gaps between the parts are taken as closed: measure along the skin.</p>
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
			<Button look="next" onClick={lay} className="justify-self-start">
				Lay it over {chosen.length} parts
			</Button>
		</div>
	);
}
