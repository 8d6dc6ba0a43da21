import { useState } from "react";
import { ask, client, type Schemas, told } from "../../api/client";
import { Button, Sheet, TroubleNote } from "../../ui/parts";
import { Field } from "./Field";
import { FullRoll } from "./FullRoll";
import { OffTheShelf } from "./OffTheShelf";
import { type Film, type Roll, type Send, useKey } from "./sending";

/** How much is left on a roll: by its diameters, or measured along the film. */
export function MeasureRoll({
	film,
	roll,
	send,
	onDone,
}: {
	film: Film;
	roll: Roll;
	send: Send;
	onDone: () => void;
}) {
	const id = useKey();
	const [outside, setOutside] = useState("");
	const [core, setCore] = useState("3 in");
	const [build, setBuild] = useState(film.wound_mm ? film.wound_mm.toFixed(3) : "");
	const [left, setLeft] = useState("");
	const [found, setFound] = useState<Schemas["OnItView"] | null>(null);
	const [wrong, setWrong] = useState<string | null>(null);
	const wound = { outside_mm: outside, core_mm: core, build_mm: Number(build.replace(",", ".")) };
	const tell = (error: unknown) => setWrong(told(error));
	const work = async () => {
		try {
			if (!(wound.build_mm > 0))
				throw new Error("Type how thick one turn is in millimetres, film and liner together: 0.2.");
			setFound(await ask(client.POST("/api/rolls/wound", { body: wound })));
			setWrong(null);
		} catch (error) {
			setFound(null);
			tell(error);
		}
	};
	const enter = (by: { wound: typeof wound } | { left_mm: string }) =>
		send(
			ask(
				client.POST("/api/rolls/{id}/measured", {
					params: { path: { id: roll.id } },
					body: { id, seen: roll.revision, ...by },
				}),
			),
		).then(onDone, tell);
	return (
		<Sheet
			open
			onOpenChange={(o) => !o && onDone()}
			title={`${roll.roll.offcut ? "Offcut" : "Roll"} of ${film.film.name}, lot ${roll.roll.lot}`}
		>
			<p className="text-lg">
				On it by what was cut so far: <b className="font-reading">{roll.left.text}</b> of {roll.length.text}.
			</p>
			<form
				className="mt-3 grid grid-cols-[minmax(0,1fr)] gap-3 @md:grid-cols-3"
				onSubmit={(e) => {
					e.preventDefault();
					void work();
				}}
			>
				<Field label="Across the roll" value={outside} onChange={setOutside} hint="over the film: 5 7/8" />
				<Field label="Across the core" value={core} onChange={setCore} hint="its outside" />
				<Field
					label="One turn, mm"
					numeric
					value={build}
					onChange={setBuild}
					hint={film.wound_mm ? "film and liner, off the sheet" : "film and liner together"}
				/>
				<Button type="submit" className="@md:col-span-3 justify-self-start">
					Work out its length
				</Button>
			</form>
			<FullRoll onTurn={(mm) => setBuild(mm.toFixed(3))} />
			{found && (
				<div className="mt-3 rounded bg-paper p-3">
					<p className="text-xl">
						<b className="font-reading">{found.length.text}</b> on it: between{" "}
						<b className="font-reading">{found.least.text}</b> and{" "}
						<b className="font-reading">{found.most.text}</b>
					</p>
					<p className="text-soft">A tape read to 1/16 in, a thickness within 5 % (ours).</p>
					<Button look="next" className="mt-2" onClick={() => void enter({ wound })}>
						Enter {found.length.text}
					</Button>
				</div>
			)}
			<form
				className="mt-4 grid grid-cols-[minmax(0,1fr)_auto] items-end gap-3"
				onSubmit={(e) => {
					e.preventDefault();
					void enter({ left_mm: left });
				}}
			>
				<Field label="Or rolled out and measured: what is left?" value={left} onChange={setLeft} />
				<Button type="submit" disabled={left.trim() === ""}>
					Enter it
				</Button>
			</form>
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
			<div className="mt-4">
				<OffTheShelf
					what={`lot ${roll.roll.lot}`}
					onTake={() =>
						void send(ask(client.DELETE("/api/rolls/{id}", { params: { path: { id: roll.id } } }))).then(
							onDone,
							tell,
						)
					}
				/>
			</div>
		</Sheet>
	);
}
