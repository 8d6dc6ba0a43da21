/** Lines that are understood, each with what it puts there. */
const LINES = [
	["rivets 46 3/4 every 4' x5, 6 down every 3 x13 head 3/8", "five columns of thirteen heads"],
	["seam every 48", "a seam every 4 ft to the end of the side"],
	["lamp 6 back 82 down amber", "one lamp; red, white, required, extra"],
	["window 60 back 8 down 40 x 16 no driver", "glass; driver or no driver: who looks through it"],
	['locker door 20\' back 24 down 34 x 40 called "battery"', "wide × high from its upper front corner"],
	["vent 40 back 30 down to its middle 6 across", "round, measured to its middle"],
	["hinge 1 back 6 down 4 x 5 every 90 x2 rows 20 x5", "repeated along, and in rows"],
	["body line 0 back 30 down to 24' back 28 down", "straight between two readings"],
	["crease along 12, 30; 40, 33 r; 90, 30", "by readings; r rounds, outline closes"],
	["recess 5' back 20 down 40 x 24, 5/8 deep walls 85 open foot", "how deep, how steep, where air leaves"],
	["wheel arch 15' 10 back 38 wide 16 high", "on the bottom edge"],
];

/** How a feature is called out in one line. */
export const QuickHelp = () => (
	<section aria-label="Quick words, how" className="mt-6">
		<h2 className="mb-1 font-bold text-xl">Quick words</h2>
		<p className="mb-2">
			Look over, On it: what it is first, then where. Tab completes a word, Enter keeps the line. Behind any
			of them: keep off 1/4, goes back, for good, stays, from "body line", called "…", note "…".
		</p>
		<dl className="grid gap-x-6 gap-y-1.5">
			{LINES.map(([line, what]) => (
				<div key={line}>
					<dt className="font-bold font-reading">{line}</dt>
					<dd className="text-soft">{what}</dd>
				</div>
			))}
		</dl>
	</section>
);
