/** A year, days. */
export const YEAR = 365.25;

/** How far a day is, in words. */
export function away(days: number): string {
	const far = Math.abs(days);
	const words =
		far < 1
			? "today"
			: far < 60
				? `${far} ${far === 1 ? "day" : "days"}`
				: far < 700
					? `${Math.round(far / 30.4)} months`
					: `${Math.round((far / YEAR) * 10) / 10} years`;
	return far < 1 ? words : days < 0 ? `${words} late` : `in ${words}`;
}
