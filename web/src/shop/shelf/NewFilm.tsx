import { useState } from "react";
import { ask, client, type Schemas, told } from "../../api/client";
import { FILMS, FilmColour } from "../../ui/FilmColour";
import { Button, Choice, Sheet, TroubleNote } from "../../ui/parts";
import { Field } from "./Field";
import { type Send, useKey } from "./sending";

/** A data sheet that nobody has typed yet. */
const EMPTY = {} as Schemas["DataSheet"];

/** Puts a film on the shelf: its name, its class, its colour. Its data sheet can follow. */
export function NewFilm({
	classes,
	send,
	onDone,
}: {
	classes: Schemas["FilmFigures"][];
	send: Send;
	onDone: () => void;
}) {
	const id = useKey();
	const [name, setName] = useState("");
	const [kind, setKind] = useState<Schemas["FilmClass"]>("cut_lettering");
	const [colour, setColour] = useState<string>(FILMS[0].value);
	const [wrong, setWrong] = useState<string | null>(null);
	const put = () =>
		send(
			ask(
				client.POST("/api/films", {
					body: { id, film: { name: name.trim(), class: kind, colour, sheet: EMPTY } },
				}),
			),
		).then(onDone, (error) => setWrong(told(error)));
	return (
		<Sheet open onOpenChange={(o) => !o && onDone()} title="A film for the shelf">
			<form
				className="grid gap-3"
				onSubmit={(e) => {
					e.preventDefault();
					void put();
				}}
			>
				<Field label="What do you call it?" value={name} onChange={setName} />
				<Choice
					label="What kind of film is it?"
					value={kind}
					onChange={setKind}
					options={classes.map((c) => ({ value: c.class, text: c.name }))}
				/>
				<FilmColour label="Its colour" value={colour} onChange={setColour} />
				<p className="text-soft">
					Its figures begin as they are usual for its kind. Type its own data sheet over them afterwards: the
					sheet decides.
				</p>
				{wrong && <TroubleNote>{wrong}</TroubleNote>}
				<Button look="next" type="submit" className="justify-self-end">
					Put it on the shelf
				</Button>
			</form>
		</Sheet>
	);
}
