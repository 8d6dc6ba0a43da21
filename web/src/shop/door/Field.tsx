import { useId } from "react";

/** Some words, or a secret, typed at the door. */
export function Field({
	label,
	value,
	onChange,
	secret,
	autoComplete = "off",
}: {
	label: string;
	value: string;
	onChange: (text: string) => void;
	secret?: boolean;
	autoComplete?: string;
}) {
	const id = useId();
	return (
		<div className="flex min-w-0 flex-col gap-1">
			<label htmlFor={id}>{label}</label>
			<input
				id={id}
				value={value}
				type={secret ? "password" : "text"}
				autoComplete={autoComplete}
				maxLength={200}
				onChange={(e) => onChange(e.target.value)}
				className="h-12 rounded border border-soft bg-sheet px-3 text-lg"
			/>
		</div>
	);
}
