import { useEffect, useState } from "react";
import type { Schemas } from "../../api/client";
import { KEPT_HERE, useRecord } from "../../api/outbox";
import { kept } from "../../job/Floor";
import { useTelling } from "../../job/useTelling";
import { TroubleNote } from "../../ui/parts";

/** Where a page keeps since when a piece's wait runs, for as long as the server does not know it. */
export const dwellKey = (piece: string) => `dwell.${piece}`;

/** The wait before the transfer tape comes off: it runs from the last stroke, for everybody at this piece. Nothing where there is none. */
export function Dwell({
	piece,
	view,
	refresh,
}: {
	piece: Schemas["PieceView"];
	view: Schemas["LayDownView"];
	refresh: () => Promise<void>;
}) {
	const [now, setNow] = useState(Date.now());
	const [early, setEarly] = useState(false);
	const [why, setWhy] = useState("");
	const [waits, setWaits] = useState(false);
	const record = useRecord();
	const { wrong, tell } = useTelling();
	const own = Number(kept.get(dwellKey(piece.id))) || null;
	const known = view.dwell_from ? Date.parse(view.dwell_from) : null;
	const begun = known ?? (view.laid ? null : own);
	useEffect(() => {
		if (begun === null) return;
		const timer = setInterval(() => setNow(Date.now()), 1000);
		return () => clearInterval(timer);
	}, [begun]);
	const [least = 0, most = 0] = view.dwell_minutes;
	if (most === 0) return null;
	// A clock that is off shows no wait of hours before it began.
	const seconds = begun === null ? 0 : Math.max(0, Math.floor((now - begun) / 1000));
	const minutes = Math.floor(seconds / 60);
	const left = least * 60 - seconds;
	const clock = (s: number) => `${Math.floor(Math.abs(s) / 60)}:${String(Math.abs(s) % 60).padStart(2, "0")}`;
	const end = () => {
		const short = minutes < least ? { why: why.trim() } : {};
		tell(
			record({
				kind: "floor",
				piece: piece.id,
				note: { what: "waited", minutes, reason: "before the transfer tape came off", ...short },
			})
				.then((o) => setWaits(!o.sent))
				.finally(() => refresh()),
		).then((told) => {
			// What was not taken is still running, and can be ended again.
			if (!told) return;
			kept.set(dwellKey(piece.id), null);
			setEarly(false);
		});
	};
	const key = "min-h-16 rounded border border-soft bg-paper px-5 text-xl disabled:opacity-60";
	return (
		<section aria-label="Transfer tape" className="flex flex-wrap items-center gap-4 rounded bg-paper p-4">
			<p className="min-w-0 grow">
				{view.dwell} {begun === null && !view.laid && "The wait starts with the last stroke."}
			</p>
			{begun !== null && (
				<>
					<p className="font-bold font-reading text-4xl" role="timer">
						{left > 0 ? clock(left) : `✓ ${clock(seconds)}`}
					</p>
					<button type="button" className={key} onClick={left > 0 ? () => setEarly(true) : end}>
						Tape is off
					</button>
				</>
			)}
			{early && left > 0 && (
				<form
					aria-label="Off too early"
					className="flex w-full flex-wrap items-center gap-3"
					onSubmit={(e) => {
						e.preventDefault();
						end();
					}}
				>
					<label htmlFor="early" className="text-xl">
						! {minutes === 1 ? "1 minute has" : `${minutes} minutes have`} passed of {least}. Leave it on, or
						say why it came off.
					</label>
					<input
						id="early"
						value={why}
						maxLength={300}
						onChange={(e) => setWhy(e.target.value)}
						className="min-h-16 min-w-0 grow rounded border border-soft bg-sheet px-3 text-xl"
					/>
					<button type="submit" className={key} disabled={why.trim().length < 3}>
						It is off
					</button>
				</form>
			)}
			{waits && <p role="status">{KEPT_HERE}</p>}
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
		</section>
	);
}
