import { useEffect, useRef, useState } from "react";

/** Tones that are told apart with ear muffs on: a tick, and the two that stop a hand. */
const TONES = { tick: [1200, 0.03], ceiling: [300, 0.6], gap: [600, 0.25] } as const;

let sound: AudioContext | null = null;

/** One tone. Where a browser has no sound the screen says the same. */
export function sounds(which: keyof typeof TONES) {
	try {
		sound ??= new AudioContext();
		const [hertz, seconds] = TONES[which];
		const [tone, loud] = [sound.createOscillator(), sound.createGain()];
		tone.frequency.value = hertz;
		loud.gain.setValueAtTime(0.2, sound.currentTime);
		loud.gain.exponentialRampToValueAtTime(0.001, sound.currentTime + seconds);
		tone.connect(loud).connect(sound.destination);
		tone.start();
		tone.stop(sound.currentTime + seconds);
	} catch {
		// No sound here.
	}
}

/** Where the heat is, mm along a run, when that was, ms, and what was walked since the last mark, mm. */
export type Walked = { mm: number; at: number; since: number };

/**
 * Where the heat is a moment later, and how many ticks that makes. It goes on from where it was by the pace of now: a pace that a reading has
 * changed moves nothing that was walked before.
 */
export function walkedOn(from: Walked, now: number, pace: { speed: number; tick: number }) {
	const moved = (Math.max(0, now - from.at) / 1000) * pace.speed;
	const since = from.since + moved;
	const ticks = Math.floor(since / pace.tick) - Math.floor(from.since / pace.tick);
	return { walked: { mm: from.mm + moved, at: now, since }, ticks };
}

/** A walk by the pace, with a tick for each step. `at` is where the heat is, mm; nothing while nobody walks. */
export function useWalk(pace: { speed: number; tick: number } | null, length: number) {
	const [walked, setWalked] = useState<Walked | null>(null);
	// What the timer goes on from; a pace that changes meanwhile is taken from the next moment on.
	const last = useRef<Walked | null>(null);
	const steps = useRef(pace);
	steps.current = pace;
	const walking = walked !== null && pace !== null;
	const put = (now: Walked | null) => {
		last.current = now;
		setWalked(now);
	};
	useEffect(() => {
		if (!walking) return;
		const timer = setInterval(() => {
			if (!last.current || !steps.current) return;
			const { walked, ticks } = walkedOn(last.current, Date.now(), steps.current);
			if (ticks > 0) sounds("tick");
			// Past the end nothing is walked any more.
			const now = walked.mm > length + steps.current.tick ? null : walked;
			last.current = now;
			setWalked(now);
		}, 50);
		return () => clearInterval(timer);
	}, [walking, length]);
	return {
		at: walking ? Math.min(length, walked.mm) : null,
		begin: (mm: number) => put({ mm, at: Date.now(), since: 0 }),
		stop: () => put(null),
	};
}
