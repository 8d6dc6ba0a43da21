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

/**
 * A walk by the pace: where the heat is along a run, mm, by what was walked since the last mark, with a tick for each step.
 * Nothing while nobody walks.
 */
export function useWalk(pace: { speed: number; tick: number } | null, length: number) {
	const [from, setFrom] = useState<{ at: number; mm: number } | null>(null);
	const [now, setNow] = useState(0);
	const ticks = useRef(0);
	const walking = from !== null && pace !== null;
	const at = walking ? Math.min(length, from.mm + ((now - from.at) / 1000) * pace.speed) : null;
	useEffect(() => {
		if (!walking || !pace) return;
		ticks.current = 0;
		const timer = setInterval(() => {
			const moved = ((Date.now() - from.at) / 1000) * pace.speed;
			const due = Math.floor(moved / pace.tick);
			if (due > ticks.current) {
				ticks.current = due;
				sounds("tick");
			}
			setNow(Date.now());
			// Past the end nothing is walked any more.
			if (from.mm + moved > length + pace.tick) setFrom(null);
		}, 50);
		return () => clearInterval(timer);
	}, [walking, from, pace?.speed, pace?.tick, length, pace]);
	return {
		at,
		begin: (mm: number) => {
			setNow(Date.now());
			setFrom({ at: Date.now(), mm });
		},
		stop: () => setFrom(null),
	};
}
