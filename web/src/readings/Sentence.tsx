import { type ReactNode, useId } from "react";
import { TroubleNote, WordChoice } from "../ui/parts";
import { useTyped } from "./useTyped";

/** A part of a sentence, as core says it: words, or something that is typed or chosen where it stands. */
export type Said = { part: "words" | "length" | "number" | "choice"; at?: string; text: string };

/** What stands behind a place of a sentence. */
export type Slot =
	| { label: string; typed: (text: string) => Promise<unknown> }
	| {
			label: string;
			options: { value: string; text: string }[];
			value: string;
			chosen: (value: string) => void;
	  };

/**
 * A rule as a sentence: its figures are typed and its words opened where they stand. A place that has no slot is read as plain words, so that
 * nothing is hidden.
 */
export function Sentence({
	said,
	slots,
	label,
}: {
	said: readonly Said[];
	/** What stands behind a place, by its path. */
	slots: (at: string) => Slot | undefined;
	label: string;
}) {
	return (
		<p role="group" aria-label={label} className="text-xl leading-[3.1rem]">
			{/* By its place, not by where it stands: what is open stays open while the words before it change. */}
			{said.map((part, n) => (
				<Part key={part.at ?? n} part={part} slot={part.at ? slots(part.at) : undefined} first={n === 0} />
			))}
		</p>
	);
}

/** A space before it, unless it closes what stands before. */
const space = (text: string, first: boolean) => (first || /^[,.;]/.test(text) ? "" : " ");

function Part({ part, slot, first }: { part: Said; slot: Slot | undefined; first: boolean }) {
	const before = space(part.text, first);
	if (!slot) return `${before}${part.text}`;
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
			<Figure label={slot.label} printed={part.text} onCommit={slot.typed} plain={part.part === "number"} />
		</>
	);
}

/** A figure that is typed where it stands, as wide as what it says. */
export function Figure({
	label,
	printed,
	onCommit,
	plain,
}: {
	label: string;
	printed: string;
	onCommit: (text: string) => Promise<unknown>;
	plain?: boolean;
}) {
	const { field, value, wrong } = useTyped(printed, onCommit);
	const id = useId();
	return (
		<>
			<input
				{...field}
				aria-label={label}
				aria-describedby={wrong ? id : undefined}
				inputMode={plain ? "decimal" : "text"}
				onFocus={(e) => e.target.select()}
				className={`h-11 rounded-t border-b-[3px] px-1.5 text-center font-bold font-reading text-[1.35rem] ${
					wrong ? "border-trouble bg-trouble-soft" : "border-measure bg-paper"
				}`}
				style={{ width: `${Math.max(value.length, 2) + 1.4}ch` }}
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
