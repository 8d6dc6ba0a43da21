import { useState } from "react";
import type { Schemas } from "../../api/client";
import type { useFloorRecord } from "../../job/useFloorRecord";
import { Button, Choice, TroubleNote } from "../../ui/parts";

/** Wind, sun and rain where a side stands in the open, as they are looked at now: each by what anybody can see. */
export function YardPart({
	view,
	side,
	record,
}: {
	view: Schemas["PrepView"];
	side: string;
	record: ReturnType<typeof useFloorRecord>;
}) {
	const { bay } = view;
	// What was said last is changed, not said anew; before anybody has said it nothing is chosen, so that nothing is recorded unseen.
	const [wind, setWind] = useState<Schemas["Wind"] | "">(bay.weather?.wind ?? "");
	const [sun, setSun] = useState<Schemas["Sun"] | "">(view.sun?.sun ?? "");
	const [rain, setRain] = useState<Schemas["Rain"] | "">(bay.weather?.rain ?? "");
	const [unseen, setUnseen] = useState(false);
	const seen = async () => {
		if (wind === "" || sun === "" || rain === "") {
			setUnseen(true);
			return;
		}
		setUnseen(false);
		if (await record.bay({ what: "weather", wind, rain, bay: "" }))
			await record.prep({ what: "sun", side, sun });
	};
	return (
		<form
			aria-label="Wind, sun and rain"
			className="mb-3 flex flex-col gap-2 border-line border-b pb-3"
			onSubmit={(e) => {
				e.preventDefault();
				void seen();
			}}
		>
			<h3 className="font-bold">In the open: {bay.name}</h3>
			{unseen && <TroubleNote>Look round, then choose wind, sun and rain, all three.</TroubleNote>}
			<Choice
				label="Wind"
				value={wind}
				options={bay.winds.map((w) => ({ value: w.value, text: w.name }))}
				onChange={setWind}
			/>
			<div className="grid grid-cols-2 gap-2">
				<Choice
					label="Sun"
					value={sun}
					options={view.suns.map((s) => ({ value: s.value, text: s.name }))}
					onChange={setSun}
				/>
				<Choice
					label="Rain"
					value={rain}
					options={bay.rains.map((r) => ({ value: r.value, text: r.name }))}
					onChange={setRain}
				/>
			</div>
			<Button type="submit" className="min-h-16 text-xl">
				So it is now
			</Button>
			{bay.weather && <p>{bay.weather.says}</p>}
			{view.sun && <p>{view.sun.says}</p>}
		</form>
	);
}
