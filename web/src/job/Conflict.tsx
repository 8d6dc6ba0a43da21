import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { ask, client, type Problem, type Schemas, Trouble, told } from "../api/client";
import type { Editing, Seen } from "../api/queries";
import { Button, Sheet, TroubleNote } from "../ui/parts";
import { merged, NOTHING, partsOf, type Spec } from "./merge";

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
	art: "artwork",
	place: "place",
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
	celsius: "temperature",
	way: "wet or dry",
	hinge: "hinge",
};
const word = (key: string) => WORDS[key] ?? key.replace(/_mm$/, "").replaceAll("_", " ");

/** Saves a row; where somebody else changed it meanwhile, both versions are shown and nothing is lost. */
export function useSaving(editing: Editing, unit: Schemas["Unit"]) {
	const [clash, setClash] = useState<Clash | null>(null);
	const [wrong, setWrong] = useState<string | null>(null);

	// A row's saves follow each other: whoever types on before the answer is there must not meet their own change as somebody
	// else's.
	const own = useRef(new Map<string, { revision: number; spec: Spec }>());
	const last = useRef<Promise<unknown>>(Promise.resolve());
	const save = (seen: Seen, base: unknown, mine: unknown) => {
		const next = last.current.then(() => {
			const newer = own.current.get(seen.id);
			return newer && newer.revision > seen.revision
				? saveNow(
						{ ...seen, revision: newer.revision },
						newer.spec,
						// One person's own quick changes belong together, however near they lie.
						merged(base as Spec, mine as Spec, newer.spec, NOTHING),
					)
				: saveNow(seen, base, mine);
		});
		last.current = next.catch(() => undefined);
		return next;
	};

	const saveNow = async (seen: Seen, base: unknown, mine: unknown) => {
		try {
			const row = await editing.replace(seen, mine);
			own.current.set(row.id, { revision: row.revision, spec: row.spec as Spec });
			return row;
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
	const base = partsOf(clash.base);
	const mine = partsOf(clash.mine);
	const theirs = partsOf(clash.theirs);
	const rows = [...theirs.keys()].filter((path) => {
		const was = JSON.stringify(base.get(path));
		return JSON.stringify(mine.get(path)) !== was || JSON.stringify(theirs.get(path)) !== was;
	});
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
				{rows.map((path) => (
					<tr key={path} className="border-line border-b">
						<td className="p-2">{word(path.split("/").at(-1) ?? path)}</td>
						<td className="p-2 font-reading">
							<Told value={mine.get(path)} name={path} unit={unit} />
						</td>
						<td className="p-2 font-reading">
							<Told value={theirs.get(path)} name={path} unit={unit} />
						</td>
					</tr>
				))}
			</tbody>
		</table>
	);
}

/** A value in words; lengths as the server prints them. */
function Told({ value, name, unit }: { value: unknown; name: string; unit: Schemas["Unit"] }) {
	if (typeof value === "object" && value !== null) {
		return Object.entries(value).map(([key, inner]) => (
			<span key={key} className="mr-3">
				<Told value={inner} name={key} unit={unit} />
			</span>
		));
	}
	if (name.endsWith("_mm") && typeof value === "number") return <Printed mm={value} unit={unit} />;
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
