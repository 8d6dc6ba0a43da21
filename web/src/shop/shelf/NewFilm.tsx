import { useState } from "react";
import { ask, client, type Schemas, told } from "../../api/client";
import { FileButton } from "../../ui/FileButton";
import { FIRST_FILM, FilmColour } from "../../ui/FilmColour";
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
	const [colour, setColour] = useState<string>(FIRST_FILM);
	const [sheet, setSheet] = useState<Schemas["DataSheet"]>(EMPTY);
	const [wrong, setWrong] = useState<string | null>(null);
	/** Fills the form from a file as the shelf gives it out; nothing is put there before somebody has looked at it. */
	const take = async (file: File) => {
		try {
			const film = JSON.parse(await file.text()) as Partial<Schemas["StockedFilm"]>;
			if (typeof film.name !== "string" || typeof film.sheet !== "object" || film.sheet === null)
				throw new Error("no film");
			if (!classes.some((c) => c.class === film.class)) {
				setWrong(`This file says what kind of film it is in a way that is not known here: ${film.class}.`);
				return;
			}
			setName(film.name);
			setKind(film.class as Schemas["FilmClass"]);
			if (film.colour) setColour(film.colour);
			setSheet(film.sheet);
			setWrong(null);
		} catch {
			setWrong("This is no data sheet of a film. Take a JSON file as a film of the shelf gives it out.");
		}
	};
	const figures = Object.values(sheet).filter((v) => v !== null && v !== undefined).length;
	const put = () =>
		send(
			ask(
				client.POST("/api/films", {
					body: { id, film: { name: name.trim(), class: kind, colour, sheet } },
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
				<FileButton accept=".json,application/json" onFile={(file) => void take(file)}>
					From a data sheet file (JSON)
				</FileButton>
				{figures > 0 && (
					<p className="font-bold">
						{figures === 1 ? "1 figure" : `${figures} figures`} of its own sheet came with it.
					</p>
				)}
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
