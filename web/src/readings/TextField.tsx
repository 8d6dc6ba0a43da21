import { useEffect, useId, useState } from "react";
import { told } from "../api/client";
import { TroubleNote } from "../ui/parts";

/** A few words, taken on Enter or when the field is left. */
export function TextField({
	label,
	value,
	onCommit,
	hint,
	options,
}: {
	label: string;
	value: string;
	onCommit: (text: string) => Promise<unknown>;
	hint?: string;
	/** Words to choose from; others may be typed. */
	options?: readonly string[];
}) {
	const [text, setText] = useState(value);
	const [wrong, setWrong] = useState<string | null>(null);
	const id = useId();
	useEffect(() => setText(value), [value]);
	const commit = async () => {
		if (text.trim() === value.trim()) return;
		try {
			await onCommit(text.trim());
			setWrong(null);
		} catch (error) {
			setWrong(told(error));
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
				onChange={(e) => setText(e.target.value)}
				onBlur={commit}
				onKeyDown={(e) => e.key === "Enter" && commit()}
				list={options && `${id}o`}
				className="h-11 w-full min-w-0 rounded border border-soft bg-paper px-3 text-lg"
			/>
			{options && (
				<datalist id={`${id}o`}>
					{options.map((o) => (
						<option key={o} value={o} />
					))}
				</datalist>
			)}
			{hint && !wrong && <span className="text-soft">{hint}</span>}
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
		</div>
	);
}
