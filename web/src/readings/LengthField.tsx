import { useId } from "react";
import { TroubleNote } from "../ui/parts";
import { useTyped } from "./useTyped";

/**
 * A length as it is typed. The server reads it: `onCommit` sends the text and rejects with its sentence, which then stands under
 * the field while what was typed stays.
 */
export function LengthField({
	label,
	printed,
	onCommit,
	hint,
}: {
	label: string;
	printed: string | undefined;
	onCommit: (text: string) => Promise<unknown>;
	hint?: string;
}) {
	const { field, wrong } = useTyped(printed, onCommit);
	const id = useId();
	return (
		<div className="flex min-w-0 flex-col gap-1">
			<label htmlFor={id} className="text-soft">
				{label}
			</label>
			<input
				{...field}
				id={id}
				inputMode="text"
				aria-describedby={wrong ? `${id}-wrong` : undefined}
				className={`h-11 w-full min-w-0 rounded border bg-paper px-3 font-bold font-reading text-lg ${
					wrong ? "border-2 border-trouble" : "border-soft"
				}`}
			/>
			{hint && !wrong && <span className="text-soft">{hint}</span>}
			{wrong && <TroubleNote id={`${id}-wrong`}>{wrong}</TroubleNote>}
		</div>
	);
}
