import { useRef, useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { useRecord } from "../../api/outbox";
import { Closeup } from "../../drawing/Closeup";
import { px } from "../../drawing/frame";
import { FloorPane } from "../../job/Floor";
import { stagePath } from "../../job/stages";
import { useTelling } from "../../job/useTelling";
import { NextMove, TroubleNote } from "../../ui/parts";

/** Two taps within this are one that trembled, ms. */
const TREMBLE = 700;

/** Rivet heads in handy groups: what is bridged, what is edged, how each is worked down. */
export function Rivets({
	job,
	side,
	piece,
	work,
	done,
	refresh,
}: {
	job: string;
	side: Schemas["SideView"];
	piece: Schemas["PieceView"];
	work: Schemas["RivetWork"];
	/** Groups that were worked down since the piece was laid. */
	done: readonly number[];
	refresh: () => Promise<void>;
}) {
	const record = useRecord();
	const { wrong, tell } = useTelling();
	// What was pressed here counts at once, also while it waits to be sent.
	const [pressed, setPressed] = useState<readonly number[]>([]);
	const ticked = (n: number) => done.includes(n) || pressed.includes(n);
	const open = work.groups.findIndex((g) => !ticked(g.number));
	const [picked, setPicked] = useState<number | null>(null);
	const at = picked ?? Math.max(open, 0);
	const setAt = setPicked;
	const group = work.groups[at] ?? work.groups[0];
	// A tap that trembles ticks one group: the button has changed to the next one meanwhile.
	const lastTick = useRef(0);
	const tick = (g: Schemas["RivetGroup"]) => {
		if (Date.now() - lastTick.current < TREMBLE) return;
		lastTick.current = Date.now();
		setPressed([...pressed, g.number]);
		setPicked(null);
		tell(
			record({
				kind: "floor",
				piece: piece.id,
				note: {
					what: "rivets",
					group: g.number,
					groups: work.groups.length,
					heads: g.bridged + g.edge_on,
				},
			}).finally(() => refresh()),
		).then((kept) => {
			if (!kept) setPressed(pressed.filter((n) => n !== g.number));
		});
	};
	if (!group) {
		return (
			<>
				<p className="grow px-6 py-6 text-xl">No rivet head lies under this piece or its edges.</p>
				<NextMove sentence="No rivet work here.">
					<HandOver job={job} side={side} piece={piece} />
				</NextMove>
			</>
		);
	}
	const waits = piece.laid ? "" : " Worked down once the flat round them lies.";
	return (
		<>
			<FloorPane>
				<Closeup
					side={side}
					pieces={[piece]}
					points={piece.hinge.carrier}
					maxHeight={220}
					film={0.7}
					label={`${piece.called}: rivet groups`}
				>
					{(frame) => (
						<g pointerEvents="none">
							{work.groups.flatMap((g, n) =>
								g.heads.map((h) => {
									const [x, y] = px(frame, h);
									return (
										<g key={`${x} ${y}`}>
											<circle
												cx={x}
												cy={y}
												r={n === at ? 8 : 5}
												fill="none"
												stroke="var(--color-paper)"
												strokeWidth={5}
											/>
											<circle
												cx={x}
												cy={y}
												r={n === at ? 8 : 5}
												fill="none"
												stroke={n === at ? "var(--color-measure)" : "var(--color-ink)"}
												strokeWidth={n === at ? 3.5 : 2}
											/>
										</g>
									);
								}),
							)}
						</g>
					)}
				</Closeup>
				<div className="grid gap-4 @lg:grid-cols-2">
					<ol className="flex max-h-[22rem] flex-col gap-2 overflow-y-auto p-1" aria-label="Groups of heads">
						{work.groups.map((g, n) => (
							<li key={g.number}>
								<button
									type="button"
									aria-pressed={n === at}
									onClick={() => setAt(n)}
									className={`flex min-h-16 w-full items-center gap-4 rounded px-4 text-left ${
										n === at ? "bg-paper ring-4 ring-measure" : "border border-soft bg-paper"
									}`}
								>
									<span className="font-bold text-2xl">
										{ticked(g.number) ? "✓ " : ""}
										{g.number}
									</span>
									<span className="grow">
										{g.from_column === g.to_column
											? `Column ${g.from_column}`
											: `Columns ${g.from_column} to ${g.to_column}`}
										, <span className="font-reading">{g.from.text}</span> back
									</span>
									<span className="font-bold font-reading text-xl">{g.bridged + g.edge_on}</span>
								</button>
							</li>
						))}
					</ol>
					<section aria-label="How" className="rounded bg-paper p-4">
						<ul>
							{work.how.map((h) => (
								<li key={h}>{h}</li>
							))}
						</ul>
						<p className="mt-2 border-tape-deep border-t-2 pt-2 font-semibold">{work.caution}</p>
					</section>
				</div>
				{wrong && <TroubleNote>{wrong}</TroubleNote>}
			</FloorPane>
			<NextMove
				sentence={open < 0 ? "Every group of heads is worked down." : group.sentence}
				detail={open < 0 ? undefined : `Group ${group.number} of ${work.groups.length}.${waits}`}
			>
				{piece.laid && !ticked(group.number) ? (
					<button
						type="button"
						onClick={() => tick(group)}
						className="min-h-16 rounded bg-tape px-6 font-bold text-ink text-xl"
					>
						Group {group.number} is down
					</button>
				) : (
					<HandOver job={job} side={side} piece={piece} />
				)}
			</NextMove>
		</>
	);
}

/** On to Hand over once every piece of the side lies. */
function HandOver({
	job,
	side,
	piece,
}: {
	job: string;
	side: Schemas["SideView"];
	piece: Schemas["PieceView"];
}) {
	if (!piece.laid || side.pieces.some((p) => !p.laid)) return null;
	return (
		<Link
			to={`${stagePath(job, "hand_over")}?side=${side.id}`}
			className="flex min-h-16 items-center rounded bg-tape px-6 font-bold text-ink text-xl"
		>
			Hand over
		</Link>
	);
}
