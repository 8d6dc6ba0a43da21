import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { ask, client, type Problem, type Schemas, Trouble, told } from "../api/client";
import type { Editing, Seen } from "../api/queries";
import { Button, Sheet, TroubleNote } from "../ui/parts";
import { differences, followed, isGroup, merged, type Spec } from "./merge";

type Clash = { seen: Seen; base: Spec; mine: Spec; theirs: Spec; problem: Problem };

const WORDS: Record<string, string> = {
	text: "words",
	typeface: "typeface",
	size: "size",
	spacing: "spacing of the letters",
	tracking_percent: "extra space between letters",
	leading_percent: "space from line to line",
	align: "alignment",
	arch: "bend",
	outline: "outline",
	shadow: "shadow",
	second: "second colour",
	regulated: "rule to keep",
	by: "way of placing",
	bands: "bands",
	order: "order",
	group: "group",
	colour: "colour",
	along: "place along the rail",
	down: "distance down",
	angle: "angle",
	film: "film",
	crew: "people",
	chosen: "film of the shelf",
	celsius: "temperature",
	way: "wet or dry",
	hinge: "hinge",
	distance_mm: "",
	rule: "way of measuring",
	to: "measured to",
	from: "from",
	edge: "from which edge",
	height: "from which height",
	piece: "beside which piece",
	gap_mm: "gap",
	front_width_mm: "width at the front",
	rear_width_mm: "width at the rear",
	form: "how it is measured",
	details: "more of it",
	comes_off: "before film",
	body: "shape",
	seam: "seam",
	keys: "must stay clear",
	art: "",
	place: "",
	is: "kind of artwork",
};
const word = (key: string) => WORDS[key] ?? key.replace(/_mm$/, "").replaceAll("_", " ");

/** What differs is called by where it stands: `band 2, width at the front`. What stands in a list goes by its number. */
function called(path: readonly string[]): string {
	const words: string[] = [];
	for (const key of path) {
		const last = words.length - 1;
		if (!/^\d+$/.test(key)) words.push(word(key));
		else if (last >= 0) words[last] = `${(words[last] ?? "").replace(/s$/, "")} ${Number(key) + 1}`;
	}
	return words.filter((w) => w !== "").join(", ") || "all of it";
}

/** Saves a row; where somebody else changed it meanwhile, both versions are shown and nothing is lost. */
export function useSaving(editing: Editing, unit: Schemas["Unit"]) {
	const [clash, setClash] = useState<Clash | null>(null);
	const [wrong, setWrong] = useState<string | null>(null);

	// A row's saves follow each other: whoever types on before the answer is there must not meet their own change as somebody
	// else's.
	const own = useRef(new Map<string, { revision: number; spec: Spec }>());
	const last = useRef<Promise<unknown>>(Promise.resolve());
	const save = (seen: Seen, base: unknown, mine: unknown) => {
		let written = () => {};
		const isWritten = new Promise<void>((on) => {
			written = on;
		});
		const next = last.current.then(() => {
			const newer = own.current.get(seen.id);
			return newer && newer.revision > seen.revision
				? saveNow(
						{ ...seen, revision: newer.revision },
						newer.spec,
						followed(base, mine, newer.spec),
						written,
					)
				: saveNow(seen, base, mine, written);
		});
		// The next one goes out once this one is written, not once everything that follows from it has been fetched anew: a layout of
		// strips may take seconds, and whoever presses on meanwhile waits for nothing.
		last.current = Promise.race([isWritten, next.catch(() => undefined)]);
		return next;
	};

	const saveNow = async (seen: Seen, base: unknown, mine: unknown, written = () => {}) => {
		try {
			return await editing.replace(seen, mine, (row) => {
				own.current.set(row.id, { revision: row.revision, spec: row.spec as Spec });
				written();
			});
		} catch (error) {
			if (error instanceof Trouble && error.problem.code === "stale" && error.problem.current) {
				setWrong(null);
				setClash({
					seen: { ...seen, revision: error.problem.revision ?? seen.revision },
					base: base as Spec,
					mine: mine as Spec,
					theirs: error.problem.current as Spec,
					problem: error.problem,
				});
				return undefined;
			}
			throw error;
		}
	};

	const keepMine = async () => {
		if (!clash) return;
		try {
			await saveNow(clash.seen, clash.theirs, merged(clash.base, clash.mine, clash.theirs));
			setClash((now) => (now === clash ? null : now));
		} catch (error) {
			setWrong(told(error));
		}
	};

	const dialog = clash && (
		<Sheet open onOpenChange={(open) => !open && setClash(null)} title="Two people changed this" wide>
			<p className="mb-4 text-lg">{clash.problem.detail}</p>
			<Versions clash={clash} unit={unit} />
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
			<div className="mt-5 flex justify-end gap-3">
				<Button onClick={() => setClash(null)}>Keep {clash.problem.by ?? "theirs"}’s</Button>
				<Button look="next" onClick={keepMine}>
					Put my change on it
				</Button>
			</div>
		</Sheet>
	);
	return { save, dialog };
}

function Versions({ clash, unit }: { clash: Clash; unit: Schemas["Unit"] }) {
	const rows = differences(clash.mine, clash.theirs);
	return (
		<table className="w-full border-collapse bg-paper text-left text-lg">
			<thead>
				<tr className="border-soft border-b-2">
					<th className="p-2">What</th>
					<th className="p-2">Yours</th>
					<th className="p-2">{clash.problem.by ?? "Theirs"}</th>
				</tr>
			</thead>
			<tbody>
				{rows.map(({ path, mine, theirs }) => (
					<tr key={path.join("/")} className="border-line border-b">
						<td className="p-2">{called(path)}</td>
						<td className="p-2 font-reading">
							<Told value={mine} name={path.at(-1) ?? ""} unit={unit} />
						</td>
						<td className="p-2 font-reading">
							<Told value={theirs} name={path.at(-1) ?? ""} unit={unit} />
						</td>
					</tr>
				))}
			</tbody>
		</table>
	);
}

/** A value in words; lengths as the server prints them. */
function Told({ value, name, unit }: { value: unknown; name: string; unit: Schemas["Unit"] }) {
	// A film is told by its name: its key and its data sheet say nothing to anybody here.
	if (name === "chosen" && isGroup(value) && isGroup(value.film)) return <>{String(value.film.name)}</>;
	if (typeof value === "object" && value !== null) {
		return Object.entries(value).map(([key, inner]) => (
			<span key={key} className="mr-3">
				<Told value={inner} name={key} unit={unit} />
			</span>
		));
	}
	if (name.endsWith("_mm") && typeof value === "number") return <Printed mm={value} unit={unit} />;
	if (value === null || value === undefined || value === "") return <>nothing</>;
	if (typeof value === "boolean") return <>{value ? "yes" : "no"}</>;
	return <>{String(value).replaceAll("_", " ")}</>;
}

function Printed({ mm, unit }: { mm: number; unit: Schemas["Unit"] }) {
	const text = `${Math.abs(mm)} mm`;
	const printed = useQuery({
		queryKey: ["length", text, unit],
		queryFn: () => ask(client.POST("/api/lengths", { body: { text, unit } })),
		staleTime: Number.POSITIVE_INFINITY,
	});
	return <>{printed.data ? `${mm < 0 ? "−" : ""}${printed.data.text}` : text}</>;
}
