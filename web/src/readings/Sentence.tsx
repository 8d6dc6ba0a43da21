import { type ReactNode, useId } from "react";
import type { Schemas } from "../api/client";
import { TroubleNote, WordChoice } from "../ui/parts";
import { useTyped } from "./useTyped";

/** A part of a sentence, as core says it: words, or something that is typed or chosen where it stands. */
export type Said = Schemas["Said"];

/** How what is typed or chosen is kept: put at its path in what is edited. */
export type Kept = {
	set: (path: string, next: unknown) => Promise<unknown>;
	/** Tells what became of a choice; what is typed tells of itself. */
	tell: (work: Promise<unknown>) => unknown;
};

/** What stands behind a place of a sentence. */
export type Slot =
	| { label: string; typed: (text: string) => Promise<unknown>; without?: string }
	| {
			label: string;
			options: { value: string; text: string }[];
			value: string;
			chosen: (value: string) => void;
	  };

/** What stands behind a place that core names by itself: what is typed or chosen is put at its path. */
function slotOf(part: Exclude<Said, { part: "words" }>, { set, tell }: Kept): Slot | undefined {
	const { at, label } = part;
	if (!label) return undefined;
	if (part.part === "choice") {
		const offered = part.options ?? [];
		return {
			label,
			value: String(offered.findIndex((o) => o.text === part.text)),
			options: offered.map((o, n) => ({ value: String(n), text: o.text })),
			chosen: (n) => tell(set(at, offered[Number(n)]?.value)),
		};
	}
	if (part.part === "number") {
		return {
			label,
			typed: (text) => {
				const number = Number(text.replace(",", "."));
				const wanted = part.whole ? Number.isInteger(number) : Number.isFinite(number);
				return wanted && text.trim() !== ""
					? set(at, number)
					: Promise.reject(part.whole ? "Type a whole number." : "Type a number.");
			},
		};
	}
	// What may be left away is left away by clearing it.
	const cleared = part.without ? null : "";
	return { label, without: part.without, typed: (text) => set(at, text.trim() === "" ? cleared : text) };
}

/**
 * A rule as a sentence: its figures are typed and its words opened where they stand. Core names what stands behind each place; a screen that
 * does something of its own there gives a slot. A place that has neither is read as plain words, so that nothing is hidden.
 */
export function Sentence({
	said,
	slots,
	kept,
	label,
}: {
	said: readonly Said[];
	/** What stands behind a place, by its path, where the screen has something of its own. */
	slots?: (at: string) => Slot | undefined;
	kept?: Kept;
	label: string;
}) {
	const slot = (part: Said) =>
		part.part === "words" ? undefined : (slots?.(part.at) ?? (kept && slotOf(part, kept)));
	return (
		<p role="group" aria-label={label} className="text-xl leading-[3.1rem]">
			{/* By its place, not by where it stands: what is open stays open while the words before it change. */}
			{said.map((part, n) => (
				<Part key={part.part === "words" ? n : part.at} part={part} slot={slot(part)} first={n === 0} />
			))}
		</p>
	);
}

/** A space before it, unless it closes what stands before. */
const space = (text: string, first: boolean) => (first || /^[,.;]/.test(text) ? "" : " ");

function Part({ part, slot, first }: { part: Said; slot: Slot | undefined; first: boolean }) {
	const before = space(part.text, first);
	if (!slot) return `${before}${part.text || ("without" in part ? part.without : "")}`;
	if ("options" in slot) {
		return (
			<>
				{before}
				<WordChoice
					label={slot.label}
					value={slot.value}
					text={part.text}
					options={slot.options}
					onChange={slot.chosen}
				/>
			</>
		);
	}
	return (
		<>
			{before}
			<Figure
				label={slot.label}
				printed={part.text}
				without={slot.without}
				onCommit={slot.typed}
				plain={part.part === "number"}
			/>
		</>
	);
}

/** A figure that is typed where it stands, as wide as what it says. */
export function Figure({
	label,
	printed,
	onCommit,
	plain,
	without,
}: {
	label: string;
	printed: string;
	onCommit: (text: string) => Promise<unknown>;
	plain?: boolean;
	/** What is said while nothing is given. */
	without?: string;
}) {
	const { field, value, wrong } = useTyped(printed, onCommit);
	const id = useId();
	return (
		<>
			<input
				{...field}
				aria-label={label}
				aria-describedby={wrong ? id : undefined}
				placeholder={without}
				inputMode={plain ? "decimal" : "text"}
				onFocus={(e) => e.target.select()}
				className={`h-11 max-w-full rounded-t border-b-[3px] px-1.5 text-center font-bold font-reading text-[1.35rem] ${
					wrong ? "border-trouble bg-trouble-soft" : "border-measure bg-paper"
				}`}
				style={{ width: `${Math.max(value.length || (without ?? "").length, 2) + 1.4}ch` }}
			/>
			{wrong && (
				<span className="block leading-normal">
					<TroubleNote id={id}>{wrong}</TroubleNote>
				</span>
			)}
		</>
	);
}

/** The same kind of line for words of our own: `It goes on [first] and moves [by itself].` */
export const Line = ({ children, label }: { children: ReactNode; label: string }) => (
	<p role="group" aria-label={label} className="text-xl leading-[3.1rem]">
		{children}
	</p>
);
