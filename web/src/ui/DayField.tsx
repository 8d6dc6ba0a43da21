import { useEffect, useId, useRef, useState } from "react";
import { TroubleNote } from "./parts";

/** A whole day that stands this long is meant, ms: until then somebody is still typing. */
const MEANT = 900;
/** While a year is typed its first digits are a year too: 2, then 20, then 202. */
const FIRST_YEAR = 1950;

/** A day of the calendar. Taken with Enter, when the field is left, or when it has stood for a moment; never half a year. */
export function DayField({
	label,
	day,
	onTake,
}: {
	label: string;
	/** As `2026-01-15`; null where nobody said. */
	day: string | null;
	/** Says itself what went wrong; true when the day is kept. */
	onTake: (day: string | null) => Promise<boolean>;
}) {
	const id = useId();
	const field = useRef<HTMLInputElement>(null);
	const [typed, setTyped] = useState<string | null>(null);
	const [wrong, setWrong] = useState<string | null>(null);
	const stands = day ?? "";
	/** What was sent last: refused, it is not sent again until somebody asks for it. */
	const sent = useRef<string | null>(null);
	const isWhole = (text: string) => Number(text.slice(0, 4)) >= FIRST_YEAR;

	const take = async (text: string) => {
		if (field.current?.validity.badInput)
			return setWrong("This is no whole day. Type month, day and year, or empty the field.");
		if (text && !isWhole(text))
			return setWrong(`The year is typed in four digits, ${FIRST_YEAR} or later. Type it once more.`);
		setWrong(null);
		if (text === stands) return setTyped(null);
		sent.current = text;
		if (!(await onTake(text || null))) return;
		sent.current = null;
		setTyped((now) => (now === text ? null : now));
	};

	// What a calendar was pressed for is taken without another press.
	useEffect(() => {
		if (!typed || !isWhole(typed) || typed === stands || typed === sent.current) return;
		const timer = setTimeout(() => void take(typed), MEANT);
		return () => clearTimeout(timer);
	});

	return (
		<div className="flex min-w-0 flex-col gap-1">
			<label htmlFor={id} className="text-soft">
				{label}
			</label>
			<input
				ref={field}
				id={id}
				type="date"
				value={typed ?? stands}
				onChange={(e) => setTyped(e.target.value)}
				onBlur={(e) => void take(e.target.value)}
				onKeyDown={(e) => e.key === "Enter" && void take(e.currentTarget.value)}
				className="h-11 rounded border border-soft bg-paper px-3 text-lg"
			/>
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
		</div>
	);
}
