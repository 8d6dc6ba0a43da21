import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { ask, client, freshKey, type Schemas } from "../../api/client";
import { kept, TouchChoice } from "../../job/Floor";
import { useOnePress } from "../../job/useOnePress";
import { shopNow } from "../../offline/signal";
import { Button, TroubleNote } from "../../ui/parts";
import { useMarkKey } from "./useMarkKey";
import { useThermometer } from "./useThermometer";
import { sounds } from "./useWalk";

/** A walk with a thermometer: marks of one walk follow each other. */
type Walk = { id: string; at: number };
const BY_HAND = "hand";
/** The ceiling is told again after so long, ms. */
const AGAIN = 1000;
/** So long after a slip was passed everything before it is read, ms. */
const TRAILS = 2800;
/** What came is looked at together, ms. */
const TOGETHER = 500;

/** Which of the shop's thermometers reads at this screen; nothing where readings are typed. */
export function useChosenThermometer() {
	const all = useQuery({
		queryKey: ["devices", "thermometers"],
		queryFn: () => ask(client.GET("/api/thermometers")),
	});
	const [chosen, setChosen] = useState(() => kept.get("thermometer"));
	const found = all.data?.find((t) => t.id === chosen) ?? null;
	const choose = (id: string) => {
		const word = id === BY_HAND ? null : id;
		kept.set("thermometer", word);
		setChosen(word);
	};
	return { all: all.data ?? [], chosen: found, choose };
}

/** Who reads: somebody who types, or one of the thermometers. */
export function WhoReads({ of }: { of: ReturnType<typeof useChosenThermometer> }) {
	if (of.all.length === 0) return null;
	return (
		<div className="flex">
			<TouchChoice
				label="Who reads"
				value={of.chosen?.id ?? BY_HAND}
				options={[
					{ value: BY_HAND, text: "readings are typed" },
					...of.all.map((t) => ({ value: t.id, text: `${t.name} reads` })),
				]}
				onChange={of.choose}
			/>
		</div>
	);
}

/** What a thermometer shows, and the marks that give its readings their place. */
export function ThermometerPart({
	view,
	run,
	device,
	from,
	shown,
	degrees,
	record,
	onWalk,
}: {
	view: Schemas["HeatView"];
	run: Schemas["HeatRunView"];
	device: Schemas["Thermometer"];
	/** Where a walk begins, mm. */
	from: number;
	/** A place along the run, in words. */
	shown: (mm: number) => string;
	/** A temperature in words. */
	degrees: (celsius: number) => string;
	record: (entry: Schemas["HeatEntry"]) => Promise<boolean>;
	/** The heat is here, mm; nothing once nobody walks. */
	onWalk: (mm: number | null) => void;
}) {
	const reads = useThermometer(device.id);
	const [walk, setWalk] = useState<Walk | null>(null);
	const pressed = useOnePress(400);
	const cache = useQueryClient();
	const timers = useRef<ReturnType<typeof setTimeout>[]>([]);
	const passed = useRef(Number.NEGATIVE_INFINITY);
	useEffect(() => {
		const running = timers.current;
		return () => {
			for (const timer of running) clearTimeout(timer);
		};
	}, []);
	// Readings of the way to the last slip: those that trail it, and those that a thermometer without a signal sends afterwards.
	const came = useRef(false);
	const [readFrom, heard] = [reads?.from ?? null, reads?.heard ?? null];
	useEffect(() => {
		if (readFrom === null || heard === null || came.current || readFrom > passed.current + TRAILS) return;
		came.current = true;
		timers.current.push(
			setTimeout(() => {
				came.current = false;
				void cache.invalidateQueries({ queryKey: ["heat", view.side] });
			}, TOGETHER),
		);
	}, [readFrom, heard, cache, view.side]);
	const hot = reads?.believed && reads.celsius > run.ceiling_celsius;
	const cold = reads && reads.celsius < run.wanted.from;
	const late = reads?.late ?? null;
	const told = useRef(0);
	useEffect(() => {
		if (!walk || !hot || !reads || reads.heard - told.current < AGAIN) return;
		told.current = reads.heard;
		sounds("ceiling");
	}, [walk, hot, reads]);
	// What was walked over too cold is told while it is warm.
	const gap =
		walk && run.gap_mm !== null && run.gap_mm !== undefined && run.gap_mm < walk.at - 1 ? run.gap_mm : null;
	useEffect(() => {
		if (gap !== null) sounds("gap");
	}, [gap]);
	const slip = walk ? (Math.floor(walk.at / view.mark_mm + 1e-6) + 1) * view.mark_mm : from;
	// The last slip is the end, where it would lie close to it: too short a way holds no reading of its own.
	const next = walk && run.length.mm - slip < view.mark_mm / 4 ? run.length.mm : slip;
	const mark = async () => {
		if (!pressed()) return;
		const before = walk;
		const at: Walk = { id: before?.id ?? freshKey(), at: next };
		const ends = before !== null && next >= run.length.mm - 1e-6;
		// The moment is now; whether it was recorded is known a moment later.
		setWalk(ends ? null : at);
		onWalk(ends ? null : next);
		passed.current = shopNow();
		const entry = {
			what: "mark" as const,
			run: run.name,
			along_mm: next,
			walk: at.id,
			device: device.id,
		};
		if (await record(entry)) {
			// The thermometer trails the heat: the end of the way is read a moment after the slip was passed.
			timers.current.push(
				setTimeout(() => void cache.invalidateQueries({ queryKey: ["heat", view.side] }), TRAILS),
			);
			return;
		}
		setWalk(before);
		if (!before) onWalk(null);
	};
	const stop = () => {
		setWalk(null);
		onWalk(null);
	};
	const locked = view.bay.heat_locked;
	useMarkKey(walk !== null, () => void mark());
	return (
		<section
			aria-label="What the thermometer shows"
			className="flex flex-col gap-2 rounded border border-line bg-sheet p-3"
		>
			{reads && reads.silent === null ? (
				<p className="font-bold font-reading text-5xl" data-testid="shows">
					{hot ? "! " : cold ? "↓ " : "✓ "}
					{degrees(reads.celsius)}
					{!reads.believed && <span className="block font-sans text-lg">It jumps, and is not believed.</span>}
				</p>
			) : (
				<TroubleNote>
					{reads
						? `${device.name} is silent for ${reads.silent} s: nothing is measured meanwhile.`
						: `${device.name} has not sent anything since this page was opened.`}
				</TroubleNote>
			)}
			{late !== null && (
				<TroubleNote>
					{device.name} is {Math.abs(late)} s {late > 0 ? "behind" : "ahead"}: what it reads would lie
					elsewhere along the run. Set its clock, or have it send at once without a time.
				</TroubleNote>
			)}
			{locked && !walk ? (
				<TroubleNote>{locked}</TroubleNote>
			) : late !== null && !walk ? null : (
				<div className="flex flex-wrap gap-2">
					<Button look="next" className="min-h-20 grow px-5 text-2xl" onClick={() => void mark()}>
						{walk ? `At ${shown(next)}` : `Begin at ${shown(next)}`}
					</Button>
					{walk && (
						<Button className="min-h-20 px-5 text-xl" onClick={stop}>
							Stop
						</Button>
					)}
				</div>
			)}
			<p className="text-soft">
				{walk
					? `Press as the heat passes the slip of tape, or any key. What is walked after the last one is not measured.`
					: `Slips of tape every ${shown(view.mark_mm)}. Between them a place is known to ± ${view.off.text} (Windrift’s own), and what nobody read is not measured.`}
			</p>
		</section>
	);
}
