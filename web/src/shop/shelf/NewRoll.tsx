import { useState } from "react";
import { ask, client, told } from "../../api/client";
import { Button, Sheet, TroubleNote } from "../../ui/parts";
import { Field } from "./Field";
import { type Film, type Send, useKey } from "./sending";

/** Puts a roll or an offcut of a film on the shelf. */
export function NewRoll({ film, send, onDone }: { film: Film; send: Send; onDone: () => void }) {
	const id = useKey();
	const last = film.rolls.at(-1);
	const [lot, setLot] = useState("");
	const [wide, setWide] = useState(last?.width.text ?? "54");
	const [long, setLong] = useState("50 yd");
	const [place, setPlace] = useState(last?.roll.place ?? "");
	const [offcut, setOffcut] = useState(false);
	const [wrong, setWrong] = useState<string | null>(null);
	const put = () => {
		const roll = { lot: lot.trim(), width_mm: wide, length_mm: long, place: place.trim(), offcut };
		return send(ask(client.POST("/api/rolls", { body: { id, film: film.id, roll } }))).then(onDone, (error) =>
			setWrong(told(error)),
		);
	};
	return (
		<Sheet open onOpenChange={(o) => !o && onDone()} title={`A roll of ${film.film.name}`}>
			<form
				className="grid grid-cols-[minmax(0,1fr)] gap-3 @md:grid-cols-2"
				onSubmit={(e) => {
					e.preventDefault();
					void put();
				}}
			>
				<Field wide label="Lot, as on box, bag or core" value={lot} onChange={setLot} />
				<Field label="How wide?" value={wide} onChange={setWide} />
				<Field label="How long?" value={long} onChange={setLong} hint="50 yd, 32', 9600 mm" />
				<Field wide label="Where does it stand?" value={place} onChange={setPlace} />
				<label className="flex min-h-11 items-center gap-2 @md:col-span-2">
					<input
						type="checkbox"
						checked={offcut}
						onChange={(e) => setOffcut(e.target.checked)}
						className="size-6 accent-spruce"
					/>
					It is an offcut: it is used before any roll
				</label>
				{wrong && (
					<div className="@md:col-span-2">
						<TroubleNote>{wrong}</TroubleNote>
					</div>
				)}
				<Button look="next" type="submit" className="@md:col-span-2 justify-self-end">
					Put it on the shelf
				</Button>
			</form>
		</Sheet>
	);
}
