/** A figure as it is typed with gloves: high, and large enough to be read back from a step away. */
export const FloorField = ({
	label,
	value,
	onType,
	words = false,
}: {
	label: string;
	value: string;
	onType: (text: string) => void;
	/** What is typed is a length in the tape's words rather than a number. */
	words?: boolean;
}) => (
	<label className="flex min-w-0 grow basis-24 flex-col gap-1 text-soft">
		{label}
		<input
			value={value}
			inputMode={words ? "text" : "decimal"}
			onChange={(e) => onType(e.target.value)}
			className="h-16 w-full min-w-0 rounded border border-soft bg-sheet px-3 font-bold font-reading text-2xl text-ink"
		/>
	</label>
);
