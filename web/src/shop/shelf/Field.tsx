import { useId } from "react";

/** A field of a form that is sent whole. */
export function Field({
	label,
	value,
	onChange,
	hint,
	wide,
	numeric,
}: {
	label: string;
	value: string;
	onChange: (text: string) => void;
	hint?: string;
	wide?: boolean;
	numeric?: boolean;
}) {
	const id = useId();
	return (
		<div className={`flex min-w-0 flex-col gap-1 ${wide ? "@md:col-span-2" : ""}`}>
			<label htmlFor={id} className="text-soft">
				{label}
			</label>
			<input
				id={id}
				value={value}
				maxLength={80}
				inputMode={numeric ? "decimal" : "text"}
				onChange={(e) => onChange(e.target.value)}
				className={`h-11 w-full min-w-0 rounded border border-soft bg-paper px-3 ${numeric ? "font-bold font-reading" : ""}`}
			/>
			{hint && <span className="text-soft">{hint}</span>}
		</div>
	);
}
