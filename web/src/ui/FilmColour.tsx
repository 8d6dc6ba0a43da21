import { useEffect, useId, useRef } from "react";
import { useShop } from "../api/queries";

/** What a film is until somebody says which colour it has. */
export const FIRST_FILM = "#14524d";

const CHIP = "flex h-11 items-center gap-2 rounded border bg-paper px-2";
const PRESSED = "border-4 border-measure font-bold";

/** The colour of a film: one of those that film comes in here, or any other. */
export function FilmColour({
	label,
	value,
	onChange,
}: {
	label: string;
	value: string;
	onChange: (colour: string) => void;
}) {
	const films = useShop().data?.film_colours ?? [];
	const own = value.toLowerCase();
	const isOther = value !== "" && !films.some((f) => f.value === own);
	return (
		<fieldset className="flex flex-wrap items-center gap-2">
			<legend className="text-soft">{label}</legend>
			{films.map((film) => (
				<button
					key={film.value}
					type="button"
					aria-pressed={film.value === own}
					onClick={() => onChange(film.value)}
					className={`${CHIP} ${film.value === own ? PRESSED : "border-soft"}`}
				>
					<span
						className="inline-block h-6 w-6 rounded-sm border border-soft"
						style={{ background: film.value }}
					/>
					{film.name}
				</button>
			))}
			<OtherColour value={isOther ? own : null} onTake={onChange} />
		</fieldset>
	);
}

/** Any colour, by the device's own chooser. */
function OtherColour({ value, onTake }: { value: string | null; onTake: (colour: string) => void }) {
	const id = useId();
	const field = useRef<HTMLInputElement>(null);
	// While a chooser is open, every colour that is passed is an input event: only the one that it is left with is a change.
	useEffect(() => {
		const chooser = field.current;
		const take = () => chooser && onTake(chooser.value.toLowerCase());
		chooser?.addEventListener("change", take);
		return () => chooser?.removeEventListener("change", take);
	});
	return (
		<label htmlFor={id} className={`${CHIP} cursor-pointer ${value ? PRESSED : "border-soft"}`}>
			<input
				ref={field}
				id={id}
				key={value}
				type="color"
				defaultValue={value ?? FIRST_FILM}
				className="h-7 w-7 rounded-sm border border-soft bg-paper"
			/>
			another{value && `, ${value}`}
		</label>
	);
}
