/** Colours that are mostly on the shelf. */
export const FILMS = [
	{ value: "#14524d", name: "spruce" },
	{ value: "#23405c", name: "harbour blue" },
	{ value: "#8c1d18", name: "signal red" },
	{ value: "#5b3f7a", name: "heather" },
	{ value: "#1a1a1a", name: "black" },
	{ value: "#b8860b", name: "gold" },
	{ value: "#f4f1e6", name: "white" },
] as const;

/** The colour of a film, from what stands on the shelf. */
export function FilmColour({
	label,
	value,
	onChange,
}: {
	label: string;
	value: string;
	onChange: (colour: string) => void;
}) {
	return (
		<fieldset className="flex flex-wrap items-center gap-2">
			<legend className="text-soft">{label}</legend>
			{FILMS.map((film) => (
				<button
					key={film.value}
					type="button"
					aria-pressed={film.value === value}
					onClick={() => onChange(film.value)}
					className={`flex h-11 items-center gap-2 rounded border bg-paper px-2 ${
						film.value === value ? "border-4 border-measure font-bold" : "border-soft"
					}`}
				>
					<span
						className="inline-block h-6 w-6 rounded-sm border border-soft"
						style={{ background: film.value }}
					/>
					{film.name}
				</button>
			))}
		</fieldset>
	);
}
