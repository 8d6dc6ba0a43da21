import { useEffect, useId, useRef, useState } from "react";
import { told } from "../api/client";
import { TroubleNote } from "../ui/parts";

/** A number that is no length: how many, or degrees. */
export function NumberField({
	label,
	value,
	whole = true,
	onCommit,
}: {
	label: string;
	value: number;
	whole?: boolean;
	onCommit: (n: number) => Promise<unknown>;
}) {
	const [text, setText] = useState(String(value));
	const sending = useRef<string | null>(null);
	const [wrong, setWrong] = useState<string | null>(null);
	const id = useId();
	useEffect(() => setText(String(value)), [value]);
	const commit = async () => {
		if (!(whole ? /^\d{1,6}$/ : /^-?\d{1,4}(\.\d{1,2})?$/).test(text.trim())) {
			setWrong(whole ? "Type a whole number." : "Type a number.");
			return;
		}
		if (Number(text) === value || sending.current === text) {
			setWrong(null);
			return;
		}
		sending.current = text;
		try {
			await onCommit(Number(text));
			setWrong(null);
		} catch (error) {
			setWrong(told(error));
		} finally {
			sending.current = null;
		}
	};
	return (
		<div className="flex min-w-0 flex-col gap-1">
			<label htmlFor={id} className="text-soft">
				{label}
			</label>
			<input
				id={id}
				value={text}
				inputMode="numeric"
				onChange={(e) => setText(e.target.value)}
				onBlur={commit}
				onKeyDown={(e) => e.key === "Enter" && commit()}
				aria-invalid={wrong !== null}
				aria-describedby={wrong ? `${id}-wrong` : undefined}
				className={`h-11 w-full min-w-0 rounded border bg-paper px-3 font-bold font-reading text-lg ${
					wrong ? "border-2 border-trouble" : "border-soft"
				}`}
			/>
			{wrong && <TroubleNote id={`${id}-wrong`}>{wrong}</TroubleNote>}
		</div>
	);
}
