import type { Schemas } from "../api/client";
import { Button, TroubleNote } from "../ui/parts";
import { useWalkRecord } from "./useWalkRecord";

const STATES = {
	stays: { mark: "–", word: "stays" },
	to_come_off: { mark: "○", word: "to come off" },
	off_for_good: { mark: "●", word: "off for good" },
	must_go_back: { mark: "◐", word: "off, must go back" },
	on_again: { mark: "✓", word: "on again" },
} as const;

/** What comes off and what stays with its plan; ticked off, and ticked on again at the end. */
export function Hardware({ job, lines }: { job: string; lines: Schemas["HardwareLine"][] }) {
	const { record, wrong } = useWalkRecord(job);
	if (lines.length === 0) {
		return (
			<p className="rounded bg-paper p-4 text-lg">
				No hardware was measured on this side. Badges, handles, lamps and sockets belong here.
			</p>
		);
	}
	return (
		<div className="flex flex-col gap-3">
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
			<ul className="divide-y divide-line rounded bg-paper">
				{lines.map((l) => {
					const state = STATES[l.state];
					return (
						<li key={l.feature} className="flex min-h-14 flex-wrap items-center gap-x-4 px-4 py-1.5">
							<span aria-hidden className="w-6 text-center text-2xl">
								{state.mark}
							</span>
							<strong className="min-w-40 text-lg first-letter:uppercase">{l.name}</strong>
							<span className={l.state === "must_go_back" ? "font-bold text-trouble" : ""}>{state.word}</span>
							<span className="text-soft">{l.note}</span>
							<span className="ml-auto flex gap-2">
								{(l.state === "to_come_off" || l.state === "on_again") && (
									<Button onClick={() => record({ what: "hardware_off", feature: l.feature })}>
										It is off
									</Button>
								)}
								{(l.state === "must_go_back" || l.state === "off_for_good") && (
									<Button onClick={() => record({ what: "hardware_on", feature: l.feature })}>
										It is on again
									</Button>
								)}
							</span>
						</li>
					);
				})}
			</ul>
			<p className="text-soft">
				Rivets and fasteners that hold the body together stay unless the owner's engineer says otherwise.
				Whether a thing comes off is set where it is measured, under On it.
			</p>
			<a
				href={`/api/jobs/${job}/walk-round.pdf`}
				target="_blank"
				rel="noreferrer"
				className="flex min-h-11 items-center self-start rounded border border-soft bg-paper px-4"
			>
				Print the list
			</a>
		</div>
	);
}
