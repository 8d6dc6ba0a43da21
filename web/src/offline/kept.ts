/** Where answers are kept for times without a signal. */
export const KEPT_IN = "windrift-floor";
/** An answer that comes from there says in this header when it was kept. */
export const KEPT_AT = "X-Kept-At";
/** A day on the floor, s. */
export const KEPT_FOR_S = 24 * 3600;
/** Most answers that are kept: some dozen jobs with everything of their sides and pieces. */
export const MOST_KEPT = 4000;

/** What is nobody's business without a signal, or is asked for once. */
const NEVER = [
	/^\/api\/(live|door|shared|links|audit|sessions|crew\/access|openapi\.json|schemas\/)/,
	/\.(pdf|zip|csv|ics|dxf|json)$/,
];

/** Whether an answer is kept on the device. */
export const isKept = (url: URL) =>
	url.pathname.startsWith("/api/") && !NEVER.some((never) => never.test(url.pathname));

/** What the floor needs of a job, by the addresses that its stages ask for. */
export function ofJob(job: string) {
	const parts = [
		"",
		"/strip",
		"/bay",
		"/by-when",
		"/steps",
		"/walk-round",
		"/film",
		"/care",
		"/call-backs",
		"/record?after=0",
	];
	return parts.map((p) => `/api/jobs/${job}${p}`);
}

export function ofSide(side: string) {
	const parts = ["", "/heat", "/prep", "/final-look", "/story", "/marking?read_back=false"];
	return parts.map((p) => `/api/sides/${side}${p}`);
}

export function ofPiece(piece: string) {
	const parts = [
		"/hinge",
		"/readings-ahead",
		"/hang",
		"/lay-down",
		"/remedies?heated=false",
		"/remedies?heated=true",
	];
	return parts.map((p) => `/api/pieces/${piece}${p}`);
}
