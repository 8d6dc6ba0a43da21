/** Seconds as a watch shows them: 2:05. Never less than nothing. */
export const clock = (seconds: number) => {
	const s = Math.max(0, Math.floor(seconds));
	return `${Math.floor(s / 60)}:${String(s % 60).padStart(2, "0")}`;
};
