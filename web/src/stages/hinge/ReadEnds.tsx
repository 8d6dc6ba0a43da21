import { useQuery } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import { ask, client, type Schemas, told } from "../../api/client";
import { KEPT_HERE, onSent, useActs, useRecord, type What } from "../../api/outbox";
import { useDesk } from "../../job/Bench";
import { FloorPane, kept as halfRead } from "../../job/Floor";
import { stagePath } from "../../job/stages";
import { useOnePress } from "../../job/useOnePress";
import { marked, pressed, stepped } from "../../readings/entry";
import { capital, ENDS, type End, endName } from "../../readings/flats";
import { InchTape } from "../../readings/InchTape";
import { Keypad } from "../../readings/Keypad";
import { FiguresOfBoth } from "../../ui/BothSides";
import { NextMove, TroubleNote } from "../../ui/parts";
import { judgedAhead } from "./ahead";
import { HingePicture } from "./HingePicture";
import { Upright } from "./Upright";

const NEXT = "min-h-16 rounded bg-tape px-6 font-bold text-xl text-ink disabled:opacity-60";

/** What the buttons beside the tape add, in 32nds. */
const NUDGES = [
	{ by: -32, name: "−1 in" },
	{ by: -1, name: "−1/32" },
	{ by: 1, name: "+1/32" },
	{ by: 32, name: "+1 in" },
];

/** A reading that was begun, as it was kept. */
function begun(kept: string | null): Record<End, string> {
	try {
		const { front, rear } = JSON.parse(kept ?? "{}");
		return { front: String(front ?? ""), rear: String(rear ?? "") };
	} catch {
		return { front: "", rear: "" };
	}
}

/** Type what was read at both flats; Windrift says which tape to move, which way and how much. */
export function ReadEnds({
	job,
	side,
	piece,
	state,
	refresh,
	hang,
	onNext,
}: {
	job: string;
	side: Schemas["SideView"];
	piece: Schemas["PieceView"];
	state: Schemas["HingeState"];
	refresh: () => Promise<void>;
	/** Its upright edge and its twin, once they are here. */
	hang: Schemas["HangView"] | undefined;
	onNext: () => void;
}) {
	// Half a reading is still there when the page is loaded again.
	const place = `read.${piece.id}`;
	const [text, setText] = useState<Record<End, string>>(() => begun(halfRead.get(place)));
	const [active, setActive] = useState<End>("front");
	const [answered, setAnswered] = useState(text.front === "" && text.rear === "");
	const [keys, setKeys] = useState(false);
	const phone = !useDesk();
	useEffect(() => {
		const half = !answered && (text.front !== "" || text.rear !== "");
		halfRead.set(place, half ? JSON.stringify(text) : null);
	}, [place, text, answered]);
	const [wrong, setWrong] = useState<string | null>(null);
	const [sending, setSending] = useState(false);
	const [big, setBig] = useState(false);
	const [kept, setKept] = useState(false);
	const record = useRecord();
	// What was kept has arrived: what Windrift says to it stands in the picture.
	useEffect(() => onSent(() => setKept(false)), []);
	const inches = side.unit !== "millimetre";
	// The newest round stands in the picture until the next reading is begun.
	const round = answered && !kept ? state.rounds[0] : undefined;
	const advice = round?.advice?.do;

	const type = (end: End, value: string) => {
		setText((before) => ({ ...before, [end]: value }));
		setAnswered(false);
		setKept(false);
		setWrong(null);
	};
	const begin = () => {
		const again = round?.advice?.do === "read_again" ? round.advice.ends : [...ENDS];
		// Only what looked misread is asked for again; the other figure stays.
		const keepText = (end: End) => (again.includes(end) ? "" : (round?.[end].read.text ?? ""));
		setText({ front: keepText("front"), rear: keepText("rear") });
		setActive(again[0] ?? "front");
		setAnswered(false);
		setWrong(null);
	};
	const run = async (what: What) => {
		setSending(true);
		try {
			const outcome = await record<Schemas["RoundView"]>(what);
			setKept(!outcome.sent);
			// Read while the piece was moved or removed: kept, and said.
			const told = outcome.sent && what.kind === "reading" && outcome.answer.round === 0;
			setWrong(told ? outcome.answer.sentence : null);
			if (told) setText({ front: "", rear: "" });
			else if (what.kind === "reading") setAnswered(true);
		} catch (error) {
			setWrong(told(error));
		} finally {
			setSending(false);
			await refresh();
		}
	};
	const { flats } = piece.readings;
	const asked: [number, number] = [flats.front.wanted.mm, flats.rear.wanted.mm];
	// What every pair of readings will say: kept on the device, it answers where no signal does.
	const ahead = useQuery({
		queryKey: ["ahead", piece.id, ...asked, state.rounds.length],
		queryFn: () => ask(client.GET("/api/pieces/{id}/readings-ahead", { params: { path: { id: piece.id } } })),
		// The answers of before hold as long as nothing newer can be had.
		placeholderData: (before, query) => (query?.queryKey[1] === piece.id ? before : undefined),
	});
	const waiting = useActs().flatMap((a) =>
		a.what.kind === "reading" && a.what.piece === piece.id && !a.refused ? [a.what] : [],
	);
	const lockWaits = useActs().some((a) => a.what.kind === "lock" && a.what.piece === piece.id && !a.refused);
	const here = kept && ahead.data ? judgedAhead(ahead.data, asked, waiting) : null;
	const send = () => {
		// From here on the outbox holds it: a page that is closed now does not find it half typed again.
		halfRead.set(place, null);
		return run({
			kind: "reading",
			piece: piece.id,
			front: text.front,
			rear: text.rear,
			asked,
			ends: flats.ends,
		});
	};
	const onePress = useOnePress();
	const lock = () => {
		onePress();
		return run({ kind: "lock", piece: piece.id });
	};
	// Without a signal what comes next takes the place of the lock at once: the second press of a trembling hand does not go there.
	const goOn = (event: { preventDefault: () => void }) => {
		if (!onePress()) event.preventDefault();
	};

	const fill = (
		<button
			type="button"
			onClick={() => setBig(true)}
			className="min-h-16 rounded border border-soft bg-paper font-semibold leading-6"
		>
			Fill the screen
		</button>
	);
	const ends = (
		<div className="grid grid-cols-2 gap-2 sm:gap-3">
			{ENDS.map((end) => (
				<EndCard
					key={end}
					end={end}
					called={`${capital(endName(flats, end))} flat`}
					flat={flats[end]}
					value={answered && !kept ? (round?.[end].read.text ?? "") : text[end]}
					active={active === end && advice !== "lock"}
					onPick={() => {
						if (answered) begin();
						setActive(end);
					}}
					onType={(value) => type(end, value)}
					onEnter={() => (end === "front" && !text.rear ? setActive("rear") : both && send())}
				/>
			))}
		</div>
	);
	// Said before it is locked: what goes on before it is not hung yet.
	const hung = side.pieces.filter((p) => p.id !== piece.id && (p.locked || p.laid)).length;
	const early = !state.locked && hang?.turn && hang.turn.turn - 1 > hung;
	const both = text.front.trim() !== "" && text.rear.trim() !== "";
	return (
		<>
			<FloorPane>
				<HingePicture
					side={side}
					piece={piece}
					round={round}
					maxHeight={phone ? 90 : Math.max(120, Math.min(190, innerHeight - 612))}
				/>
				{early && hang?.turn && (
					<p role="status" className="font-semibold">
						! Its turn has not come: it goes on as number {hang.turn.turn} of {hang.pieces}. {hang.turn.why}
					</p>
				)}
				{phone && ends}
				<div className={phone ? "flex flex-col gap-2" : "grid grid-cols-[15rem_1fr] items-start gap-4"}>
					{(!phone || keys || !inches) && (
						<Keypad
							feet={inches}
							wide={phone}
							onKey={(k) => {
								if (answered) begin();
								type(active, pressed(answered ? "" : text[active], k));
							}}
						/>
					)}
					<div className="flex min-w-0 flex-col gap-2">
						{!phone && ends}
						{inches && (!phone || !keys) && (
							<>
								<InchTape text={text[active]} onMark={(mark) => type(active, marked(text[active], mark))} />
								<div className={`grid gap-2 ${phone ? "grid-cols-4" : "grid-cols-5"}`}>
									{NUDGES.map(({ by, name }) => (
										<button
											key={by}
											type="button"
											onClick={() => type(active, stepped(text[active], by))}
											className="h-16 rounded border border-soft bg-paper font-bold font-reading"
										>
											{name}
										</button>
									))}
									{!phone && fill}
								</div>
							</>
						)}
						<div className="grid grid-flow-col gap-2">
							{phone && inches && (
								<button
									type="button"
									aria-pressed={keys}
									onClick={() => setKeys(!keys)}
									className="min-h-16 rounded border border-soft bg-paper font-semibold"
								>
									{keys ? "Tape" : "Keys"}
								</button>
							)}
							{(phone || !inches) && fill}
						</div>
						{kept && <p role="status">{KEPT_HERE}</p>}
						{wrong && <TroubleNote>{wrong}</TroubleNote>}
					</div>
				</div>
				{hang?.upright && <Upright piece={piece} edge={hang.upright} refresh={refresh} />}
				{hang?.twin && hang.twin.figures.length > 0 && (
					<section aria-label="Both sides" className="rounded bg-paper p-4">
						<h2 className="font-bold text-xl">
							{side.name} and {hang.other_side}
						</h2>
						<FiguresOfBoth both={hang.twin} there={hang.other_side ?? undefined} />
						{hang.twin.trouble && <TroubleNote>{hang.twin.trouble}</TroubleNote>}
					</section>
				)}
			</FloorPane>
			{state.locked ? (
				<NextMove
					sentence="Locked with both ends right."
					detail={
						side.pieces.some((p) => !p.locked && p.id !== piece.id)
							? `${hang?.hang.then ?? "Make its hinge"}, then the next piece.`
							: `${hang?.hang.then ?? "Make its hinge"}; it was the last one to hang on this side.`
					}
				>
					{side.pieces.some((p) => !p.locked && p.id !== piece.id) ? (
						<button type="button" onClick={onNext} className={NEXT}>
							Next piece
						</button>
					) : (
						<Link
							to={`${stagePath(job, "lay_down")}?side=${side.id}`}
							className={`flex items-center ${NEXT}`}
						>
							Lay down
						</Link>
					)}
				</NextMove>
			) : lockWaits ? (
				<NextMove
					sentence="Locked here, with both ends right."
					detail="It goes out by itself when there is a signal."
				>
					<Link
						to={`${stagePath(job, "lay_down")}?side=${side.id}`}
						onClick={goOn}
						className={`flex items-center ${NEXT}`}
					>
						Lay down
					</Link>
				</NextMove>
			) : kept && here ? (
				<NextMove
					sentence={here.sentence}
					detail={`Worked out before the signal went. ${text.front} and ${text.rear} are kept here and go out by themselves.`}
					alarm={here.do === "read_again"}
				>
					{here.do === "lock" ? (
						<button type="button" onClick={lock} disabled={sending} className={NEXT}>
							Lock it
						</button>
					) : (
						<button type="button" onClick={begin} className={NEXT}>
							{here.do === "move" ? "Moved. Read again" : "Read again"}
						</button>
					)}
				</NextMove>
			) : kept ? (
				<NextMove
					sentence={`${text.front} and ${text.rear} are kept here.`}
					detail="They go out by themselves when there is a signal; then it says what to do."
				>
					<button type="button" onClick={begin} className={NEXT}>
						Read again
					</button>
				</NextMove>
			) : round && advice ? (
				<NextMove sentence={round.sentence} detail={afterMove(round, flats)} alarm={advice === "read_again"}>
					{advice === "lock" ? (
						<button type="button" onClick={lock} disabled={sending} className={NEXT}>
							Lock it
						</button>
					) : (
						<button type="button" onClick={begin} className={NEXT}>
							{advice === "move" ? "Moved. Read again" : "Read again"}
						</button>
					)}
				</NextMove>
			) : (
				<NextMove
					sentence={
						round
							? round.sentence
							: `Read the tape at the ${endName(flats, active)} flat${flats[active].letter ? `, ${flats[active].letter}` : ""}: it should say ${flats[active].wanted.text}.`
					}
					detail={
						state.lock_lost
							? `It was locked, and moved ${state.moved?.how ?? ""} since: read both ends again.`
							: undefined
					}
					alarm={round !== undefined}
				>
					{text[active].trim() !== "" && !both ? (
						<button
							type="button"
							onClick={() => setActive(active === "front" ? "rear" : "front")}
							className={NEXT}
						>
							Now the {endName(flats, active === "front" ? "rear" : "front")} flat
						</button>
					) : (
						<button type="button" onClick={send} disabled={!both || sending} className={NEXT}>
							Both read
						</button>
					)}
				</NextMove>
			)}
			<Dialog.Root open={big} onOpenChange={setBig}>
				<Dialog.Portal>
					<Dialog.Content
						aria-describedby={undefined}
						className="fixed inset-0 z-50 flex flex-col items-center justify-between bg-paper p-6"
					>
						<Dialog.Title className="text-4xl">
							{capital(endName(flats, active))} flat
							{flats[active].letter && `, ${flats[active].letter}`}, {flats[active].back.text} back
						</Dialog.Title>
						<p className="font-bold font-reading text-[min(17vw,44vh)] leading-none">
							{flats[active].wanted.text}
						</p>
						<div className="flex gap-4">
							<button
								type="button"
								onClick={() => setActive(active === "front" ? "rear" : "front")}
								className="min-h-16 rounded border border-soft bg-paper px-6 text-2xl"
							>
								The other flat
							</button>
							<Dialog.Close className="min-h-16 rounded bg-tape px-6 font-bold text-2xl">Back</Dialog.Close>
						</div>
					</Dialog.Content>
				</Dialog.Portal>
			</Dialog.Root>
		</>
	);
}

/** What both flats will read once the moves are made. */
function afterMove(round: Schemas["RoundView"], flats: Schemas["Flats"]): string | undefined {
	if (round.advice?.do !== "move") return undefined;
	const reads = round.advice.moves.at(-1)?.then_reads;
	const first = round.advice.moves.length > 1 ? round.advice.moves[0]?.then_reads : undefined;
	const told = (r: Schemas["Length"][]) =>
		`${endName(flats, "front")} ${r[0]?.text}, ${endName(flats, "rear")} ${r[1]?.text}`;
	return `${first ? `After the first: ${told(first)}. ` : ""}${reads ? `Then ${told(reads)}.` : ""}`;
}

function EndCard({
	end,
	called,
	flat,
	value,
	active,
	onPick,
	onType,
	onEnter,
}: {
	end: End;
	called: string;
	flat: Schemas["Flat"];
	value: string;
	active: boolean;
	onPick: () => void;
	onType: (value: string) => void;
	onEnter: () => void;
}) {
	const id = `read-${end}`;
	return (
		<div
			className={`min-w-0 rounded bg-paper p-2 sm:p-3 ${active ? "ring-4 ring-measure" : "border border-soft"}`}
		>
			<div className="flex flex-wrap items-baseline justify-between gap-x-2">
				<label htmlFor={id} className="font-semibold">
					{called}
					{flat.letter ? ` of ${flat.letter}` : <span className="max-sm:sr-only">, {flat.to}</span>}
				</label>
				<span className="whitespace-nowrap">
					wanted <strong className="font-reading">{flat.wanted.text}</strong>
				</span>
			</div>
			<input
				id={id}
				value={value}
				placeholder="read"
				autoComplete="off"
				inputMode="none"
				onFocus={onPick}
				onChange={(e) => onType(e.target.value)}
				onKeyDown={(e) => e.key === "Enter" && onEnter()}
				className="mt-1 h-16 w-full rounded border border-soft bg-sheet px-2 font-bold font-reading sm:px-3"
				style={{
					fontSize: `min(2.25rem, calc(${Math.floor(1000 / Math.max(value.length, 4)) / 10} * 0.38vw + 0.4rem))`,
				}}
			/>
		</div>
	);
}
