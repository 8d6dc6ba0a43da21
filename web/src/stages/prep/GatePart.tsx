import { useState } from "react";
import type { Schemas } from "../../api/client";
import type { useFloorRecord } from "../../job/useFloorRecord";
import { Button } from "../../ui/parts";

const SIGNS: Record<Schemas["Stands"], [string, string, string]> = {
	in: ["✓", "in", "text-good"],
	near: ["~", "near", "text-tape-dark"],
	unknown: ["?", "not known", "text-measure"],
	out: ["✗", "out", "text-trouble"],
};

/** Ready to fit? Everything that must hold, the worst first, and what is missing. */
export function GatePart({
	view,
	side,
	record,
	onRead,
}: {
	view: Schemas["PrepView"];
	side: string;
	record: ReturnType<typeof useFloorRecord>;
	onRead: () => void;
}) {
	const [why, setWhy] = useState("");
	const { gate } = view;
	const verdict = {
		in: "Yes: ready to fit.",
		near: "Nearly: what is left is advice.",
		unknown: "Not yet: something is not known.",
		out: "No.",
	}[gate.stands];
	return (
		<div className="grid grid-cols-[minmax(0,1fr)] gap-3 @4xl:grid-cols-[minmax(0,3fr)_minmax(0,2fr)]">
			<section aria-label="Ready to fit?" className="rounded bg-paper p-4">
				<h3 className={`font-bold text-2xl ${SIGNS[gate.stands][2]}`} data-testid="gate">
					{SIGNS[gate.stands][0]} {verdict}
				</h3>
				<ul className="flex flex-col divide-y divide-line">
					{gate.lines.map((l) => (
						<li key={l.key + l.says} className="flex gap-3 py-2">
							<b className={`w-6 shrink-0 text-center text-xl ${SIGNS[l.stands][2]}`} aria-hidden>
								{SIGNS[l.stands][0]}
							</b>
							<span className="min-w-0 grow">
								<span className="sr-only">{SIGNS[l.stands][1]}: </span>
								{l.says}
							</span>
							{l.key === "hands" && l.stands !== "in" && (
								<Button
									className="min-h-14 shrink-0"
									onClick={() => record.prep({ what: "hands", clean: true })}
								>
									They are
								</Button>
							)}
							{["panel", "air", "acclimatised", "wind", "sun"].includes(l.key) && l.stands === "unknown" && (
								<Button className="min-h-14 shrink-0" onClick={onRead}>
									Read
								</Button>
							)}
						</li>
					))}
				</ul>
			</section>
			<section aria-label="Against advice" className="rounded bg-paper p-4">
				{view.passed && <p className="font-bold">{view.passed}</p>}
				{gate.stands === "in" ? (
					<p>Nothing speaks against it.</p>
				) : gate.never ? (
					<p>No reason passes this: the surface itself says no.</p>
				) : (
					<form
						className="flex flex-col gap-2"
						onSubmit={async (e) => {
							e.preventDefault();
							if (await record.prep({ what: "passed", side, reason: why })) setWhy("");
						}}
					>
						<label className="flex flex-col gap-1">
							The lead may let it pass, with a reason that stands in the record beside everything that is said
							here.
							<input
								value={why}
								maxLength={300}
								onChange={(e) => setWhy(e.target.value)}
								className="h-16 rounded border border-soft bg-sheet px-3"
							/>
						</label>
						<Button type="submit" className="min-h-16" disabled={why.trim().length < 3}>
							Fit it all the same
						</Button>
					</form>
				)}
				<p className="mt-2 text-soft">
					24 h in the hall and clean hands are common practice; 3 °C above the dew point is guidance for paint
					(ISO 8502-4), taken by analogy; half an hour for readings and two hours for a wipe are Windrift’s
					own. The film’s sheet decides.
					{view.bay.open_air &&
						" In the open: wind by the Beaufort scale, what it pulls with as at a flat plate (1.2, from memory); that one pair of hands holds 40 N of it is Windrift’s own."}
				</p>
			</section>
		</div>
	);
}
