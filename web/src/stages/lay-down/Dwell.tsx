import { useEffect, useState } from "react";
import type { Schemas } from "../../api/client";
import { useRecord } from "../../api/outbox";
import { useTelling } from "../../job/useTelling";
import { TroubleNote } from "../../ui/parts";

/** When a wait was begun, for each piece, kept while the page lives and after it is loaded again. */
const begunKey = (piece: string) => `windrift dwell ${piece}`;

/** The wait before the transfer tape comes off. Nothing where there is none. */
export function Dwell({
	piece,
	view,
	refresh,
}: {
	piece: Schemas["PieceView"];
	view: Schemas["LayDownView"];
	refresh: () => Promise<void>;
}) {
	const stored = Number(localStorage.getItem(begunKey(piece.id))) || null;
	const [begun, setBegun] = useState<number | null>(stored);
	const [now, setNow] = useState(Date.now());
	const record = useRecord();
	const { wrong, tell } = useTelling();
	useEffect(() => {
		if (begun === null) return;
		const timer = setInterval(() => setNow(Date.now()), 1000);
		return () => clearInterval(timer);
	}, [begun]);
	const [least = 0, most = 0] = view.dwell_minutes;
	if (most === 0) return null;
	const seconds = begun === null ? 0 : Math.max(0, Math.floor((now - begun) / 1000));
	const left = least * 60 - seconds;
	const clock = (s: number) => `${Math.floor(Math.abs(s) / 60)}:${String(Math.abs(s) % 60).padStart(2, "0")}`;
	const start = () => {
		const at = Date.now();
		localStorage.setItem(begunKey(piece.id), String(at));
		setNow(at);
		setBegun(at);
	};
	const end = () => {
		tell(
			record({
				kind: "floor",
				piece: piece.id,
				note: {
					what: "waited",
					minutes: Math.round(seconds / 60),
					reason: "before the transfer tape came off",
				},
			}).finally(() => refresh()),
		).then((kept) => {
			// What was not taken is still running, and can be ended again.
			if (!kept) return;
			localStorage.removeItem(begunKey(piece.id));
			setBegun(null);
		});
	};
	return (
		<section aria-label="Transfer tape" className="flex flex-wrap items-center gap-4 rounded bg-paper p-4">
			<p className="min-w-0 grow">{view.dwell}</p>
			{begun !== null && (
				<p className="font-bold font-reading text-4xl" role="timer">
					{left > 0 ? clock(left) : `✓ ${clock(seconds)}`}
				</p>
			)}
			<button
				type="button"
				onClick={begun === null ? start : end}
				className="min-h-16 rounded border border-soft bg-paper px-5 text-xl"
			>
				{begun === null ? "Start the wait" : "Tape is off"}
			</button>
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
		</section>
	);
}
