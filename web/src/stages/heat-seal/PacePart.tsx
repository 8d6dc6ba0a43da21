import type { Schemas } from "../../api/client";
import { Button, TroubleNote } from "../../ui/parts";
import { useMarkKey } from "./useMarkKey";

/** How fast the heat is walked, and the walk itself: ticks, where it is, and marks. Both hands are full, so every key is a mark. */
export function PacePart({
	pace,
	at,
	shown,
	mark,
	locked,
	marked,
	onBegin,
	onMark,
	onStop,
}: {
	pace: Schemas["PaceView"];
	/** Where the heat is, mm; nothing while nobody walks. */
	at: number | null;
	shown: (mm: number) => string;
	/** Slips of tape lie so far apart, in words. */
	mark: string;
	/** Why no heat goes on now: nothing is walked then. */
	locked: string | null;
	/** A thermometer reads by itself: its marks are pressed there. */
	marked: boolean;
	onBegin: () => void;
	onMark: () => void;
	onStop: () => void;
}) {
	const walking = at !== null;
	useMarkKey(walking && !marked, onMark);
	return (
		<section aria-label="How fast" className="flex flex-col gap-2 rounded border border-line bg-sheet p-3">
			<p className="font-bold font-reading text-3xl" data-testid="pace">
				{pace.each}
			</p>
			{walking ? (
				<>
					<p className="font-bold font-reading text-4xl" data-testid="walked-to">
						{shown(at)}
					</p>
					{!marked && (
						<>
							<div className="flex flex-wrap gap-2">
								<Button className="min-h-16 grow px-5 text-xl" onClick={onMark}>
									At a mark
								</Button>
								<Button className="min-h-16 grow px-5 text-xl" onClick={onStop}>
									Stop
								</Button>
							</div>
							<p className="text-soft">
								Slips of tape every {mark}: at each press “At a mark”, or any key, and the place is the tape’s
								again.
							</p>
						</>
					)}
				</>
			) : (
				<>
					<Told pace={pace} />
					{locked ? (
						<TroubleNote>{locked}</TroubleNote>
					) : marked ? null : (
						<Button className="min-h-16 px-5 text-xl" onClick={onBegin}>
							Walk by the ticks
						</Button>
					)}
					<p className="text-soft">
						{pace.read} Guns and thermometers nobody measured are Windrift’s own guess.
					</p>
				</>
			)}
		</section>
	);
}

/** What the pace promises. Read before the walk; during it only the place and the pace are on the screen. */
function Told({ pace }: { pace: Schemas["PaceView"] }) {
	return (
		<>
			{pace.alarm ? <TroubleNote>{pace.says}</TroubleNote> : <p className="font-bold">{pace.says}</p>}
			<p>
				{pace.expects} {pace.stop} {pace.back}{" "}
				{pace.minutes >= 1
					? `The run takes ${Math.round(pace.minutes)} min.`
					: `The run takes ${Math.max(1, Math.round(pace.minutes * 60))} s.`}
			</p>
			{pace.spots.length > 0 && (
				<ul>
					{pace.spots.map((s) => (
						<li key={s.name}>
							<b className="font-reading">{s.says}</b> {s.name}
						</li>
					))}
				</ul>
			)}
		</>
	);
}
