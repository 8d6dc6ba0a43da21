/** Keys for whole numbers, large enough for gloves. */
export function Keypad({
	onKey,
	feet,
	wide,
}: {
	onKey: (key: string) => void;
	feet: boolean;
	/** Over the whole width, in fewer rows. */
	wide?: boolean;
}) {
	const keys = ["1", "2", "3", "4", "5", "6", "7", "8", "9", "back", "0", ...(feet ? ["feet"] : [])];
	return (
		<fieldset className={`grid gap-2 ${wide ? "w-full grid-cols-4" : "w-60 grid-cols-3"}`}>
			<legend className="sr-only">Keys for the whole number</legend>
			{keys.map((key) => (
				<button
					key={key}
					type="button"
					onClick={() => onKey(key)}
					aria-label={key === "back" ? "take the last one back" : key}
					className="h-16 rounded border border-soft bg-paper font-bold font-reading text-2xl active:bg-tape"
				>
					{key === "back" ? "del" : key === "feet" ? "ft" : key}
				</button>
			))}
		</fieldset>
	);
}
