import { useEffect, useId, useRef, useState } from "react";
import { ask, client, type Schemas, told } from "../../api/client";
import { Button, TroubleNote } from "../../ui/parts";
import { useTyped } from "../../ui/useTyped";

type Quick = Schemas["QuickView"];
/** The words rest this long before they are read, ms. */
const REST = 120;

/**
 * One line in which a fitter types as he would call it out. It is drawn as it is typed; what is not understood is told apart. Enter keeps it,
 * Tab completes a word, Esc gives it up.
 */
export function QuickWords({
	side,
	onPreview,
	onAdd,
}: {
	side: Schemas["SideView"];
	onPreview: (drawing: Schemas["SideDrawing"] | null) => void;
	onAdd: (spec: Schemas["Feature"]) => Promise<unknown>;
}) {
	const id = useId();
	const field = useRef<HTMLInputElement>(null);
	const [words, setWords] = useTyped(`quick.${side.id}`);
	const [quick, setQuick] = useState<{ words: string; read: Quick } | null>(null);
	const [wrong, setWrong] = useState<string | null>(null);
	const [busy, setBusy] = useState(false);
	const asked = useRef(0);
	const read = async (line: string) => {
		const number = ++asked.current;
		const found = await ask(
			client.POST("/api/sides/{id}/features/quick", {
				params: { path: { id: side.id } },
				body: { words: line },
			}),
		);
		if (number === asked.current) setQuick({ words: line, read: found });
		return found;
	};
	// biome-ignore lint/correctness/useExhaustiveDependencies: the words alone are read anew
	useEffect(() => {
		if (words.trim() === "") {
			asked.current++;
			setQuick(null);
			return;
		}
		const timer = setTimeout(() => void read(words).catch((e) => setWrong(told(e))), REST);
		return () => clearTimeout(timer);
	}, [words, side.id]);
	// What is being said is seen in the picture, and gone from it when it is kept or given up.
	useEffect(() => {
		onPreview(quick?.read.drawing && words.trim() !== "" ? over(side.drawing, quick.read.drawing) : null);
		return () => onPreview(null);
	}, [quick, words, side.drawing, onPreview]);

	const keep = async () => {
		if (busy || words.trim() === "") return;
		setBusy(true);
		try {
			const found = quick?.words === words ? quick.read : await read(words);
			if (!found.feature || found.sentence) return;
			await onAdd(found.feature);
			setWords("");
			setWrong(null);
			field.current?.focus();
		} catch (error) {
			setWrong(told(error));
		} finally {
			setBusy(false);
		}
	};
	const shown = quick?.words === words ? quick.read : null;
	const next = shown?.completions[0];
	const complete = (word: string) => {
		const last = words.search(/[^ ,]*$/);
		const from = shown?.feature ? last : words.length - words.trimStart().length;
		setWords(`${words.slice(0, from)}${word} `);
		field.current?.focus();
	};
	return (
		<section aria-label="Called out" className="rounded bg-paper px-4 py-2.5">
			<label htmlFor={id} className="text-soft">
				Quick words
			</label>
			<input
				ref={field}
				id={id}
				value={words}
				autoComplete="off"
				spellCheck={false}
				maxLength={2000}
				placeholder="rivets 46 3/4 every 4' x5, 6 down every 3 x13 head 3/8"
				aria-describedby={`${id}r`}
				onChange={(e) => {
					setWords(e.target.value);
					setWrong(null);
				}}
				onKeyDown={(e) => {
					if (e.key === "Enter") void keep();
					if (e.key === "Escape") setWords("");
					if (e.key === "Tab" && !e.shiftKey && next) {
						e.preventDefault();
						complete(next);
					}
				}}
				className="h-11 w-full border-measure border-b-[3px] bg-transparent font-reading text-xl outline-offset-4 placeholder:text-[1rem] placeholder:text-soft"
			/>
			<div id={`${id}r`} aria-live="polite" className="min-h-7">
				{shown && (
					<p className="flex flex-wrap items-center gap-x-3 font-reading">
						<span data-testid="quick-parts">
							{shown.parts.map((p, n) => (
								<span
									key={`${n} ${p.text}`}
									className={
										p.understood ? "text-spruce" : "bg-trouble-soft text-trouble underline decoration-wavy"
									}
								>
									{p.text}
								</span>
							))}
						</span>
						{!shown.sentence && (
							<span className="flex items-center gap-3 font-words [word-spacing:normal]">
								✓ Enter keeps it.
								<Button onClick={() => void keep()}>Keep it</Button>
							</span>
						)}
					</p>
				)}
				{shown && shown.completions.length > 0 && (
					<p className="flex flex-wrap gap-2">
						{shown.completions.map((word, n) => (
							<button
								key={word}
								type="button"
								tabIndex={-1}
								onClick={() => complete(word)}
								className="min-h-9 rounded border border-line px-2"
							>
								{word}
								{n === 0 && <span className="text-soft"> Tab</span>}
							</button>
						))}
					</p>
				)}
				{shown?.sentence && words.trim() !== "" && shown.completions.length === 0 && (
					<p className="text-trouble">{shown.sentence}</p>
				)}
				{wrong && <TroubleNote>{wrong}</TroubleNote>}
				{words.trim() === "" && side.offers.length > 0 && (
					<p className="flex flex-wrap items-center gap-2">
						<span className="text-soft">
							{side.spec.body.shape === "drawn" ? "Seen in the file:" : "Usually there:"}
						</span>
						{side.offers.map((offer) => (
							<button
								key={offer.quick}
								type="button"
								onClick={() => {
									setWords(offer.quick);
									field.current?.focus();
								}}
								className="min-h-11 rounded border border-line border-dashed px-3"
							>
								{offer.name}
							</button>
						))}
					</p>
				)}
			</div>
		</section>
	);
}

/** The side with what is being said laid over it. */
const over = (side: Schemas["SideDrawing"], said: Schemas["SideDrawing"]): Schemas["SideDrawing"] => ({
	...side,
	lines: [...side.lines, ...said.lines],
	areas: [...side.areas, ...said.areas],
	columns: [...side.columns, ...said.columns],
});
