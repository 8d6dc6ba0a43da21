import { useEffect, useId, useRef, useState } from "react";
import { Trouble } from "../api/client";
import { TroubleNote } from "../ui/parts";

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
	const [text, setText] = useState<string | null>(null);
	const [wrong, setWrong] = useState<string | null>(null);
	const sending = useRef<string | null>(null);
	const id = useId();
	// What stands was changed by the server: show it, unless somebody is typing.
	// biome-ignore lint/correctness/useExhaustiveDependencies: only a new printed value ends a finished edit
	useEffect(() => setWrong(null), [printed]);

	const commit = async () => {
		if (text === null || text === printed) {
			setText(null);
			setWrong(null);
			return;
		}
		// Enter and then leaving the field is one wish, not two.
		if (sending.current === text) return;
		sending.current = text;
		try {
			await onCommit(text);
			setText(null);
			setWrong(null);
		} catch (error) {
			setWrong(error instanceof Trouble ? error.message : String(error));
		} finally {
			sending.current = null;
		}
	};

	return (
		<div className="flex flex-col gap-1">
			<label htmlFor={id} className="text-soft">
				{label}
			</label>
			<input
				id={id}
				value={text ?? printed ?? ""}
				inputMode="text"
				autoComplete="off"
				aria-invalid={wrong !== null}
				aria-describedby={wrong ? `${id}-wrong` : undefined}
				onChange={(e) => setText(e.target.value)}
				onBlur={commit}
				onKeyDown={(e) => {
					if (e.key === "Enter") commit();
					if (e.key === "Escape") {
						setText(null);
						setWrong(null);
					}
				}}
				className={`h-11 rounded border bg-paper px-3 font-bold font-reading text-lg ${
					wrong ? "border-trouble border-2" : "border-soft"
				}`}
			/>
			{hint && !wrong && <span className="text-soft">{hint}</span>}
			{wrong && <TroubleNote id={`${id}-wrong`}>{wrong}</TroubleNote>}
		</div>
	);
}
