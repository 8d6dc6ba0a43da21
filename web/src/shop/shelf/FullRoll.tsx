import { useState } from "react";
import { ask, client, told } from "../../api/client";
import { Button, TroubleNote } from "../../ui/parts";
import { Field } from "./Field";

/** How thick one turn is, from a full roll of the same film whose length stands on its box. */
export function FullRoll({ onTurn }: { onTurn: (mm: number) => void }) {
	const [outside, setOutside] = useState("");
	const [core, setCore] = useState("3 in");
	const [long, setLong] = useState("50 yd");
	const [wrong, setWrong] = useState<string | null>(null);
	const take = async () => {
		try {
			const body = { outside_mm: outside, core_mm: core, length_mm: long };
			onTurn((await ask(client.POST("/api/rolls/full", { body }))).build_mm);
			setWrong(null);
		} catch (error) {
			setWrong(told(error));
		}
	};
	return (
		<details className="mt-2">
			<summary className="min-h-11 cursor-pointer py-2 font-bold">Take one turn from a full roll</summary>
			<form
				className="grid grid-cols-[minmax(0,1fr)] gap-3 @md:grid-cols-3"
				onSubmit={(e) => {
					e.preventDefault();
					void take();
				}}
			>
				<Field label="Across the full roll" value={outside} onChange={setOutside} />
				<Field label="Across its core" value={core} onChange={setCore} />
				<Field label="Its length" value={long} onChange={setLong} hint="as it stands on the box" />
				<Button type="submit" className="@md:col-span-3 justify-self-start">
					Take it as one turn
				</Button>
			</form>
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
		</details>
	);
}
