import { useEffect, useState } from "react";
import { type Act, drain, leaveOut, sendAgain, useActs, useKeptHere } from "../api/outbox";
import { useMe, useShop } from "../api/queries";
import { JoinSheet } from "../job/JoinSheet";
import { useJoin } from "../job/useWho";
import { takeOver, useKeptAt, useNewer } from "../offline/signal";
import { Button, Sheet } from "../ui/parts";

/** How often what waits is tried again, ms. */
const AGAIN = 3000;

/** On every page: that there is no signal; what was recorded and is not sent yet, and what was refused and waits for an answer. Nothing where all is sent. */
export function WaitingActs() {
	return (
		<>
			<NoSignal />
			<Newer />
			<Acts />
		</>
	);
}

/** Where the shop does not answer: since when what is shown may be older than what others did. */
function NoSignal() {
	const keptAt = useKeptAt();
	if (!keptAt) return null;
	const kept = new Date(keptAt);
	const today = kept.toDateString() === new Date().toDateString();
	const at = kept.toLocaleString(undefined, { ...(today ? {} : { dateStyle: "short" }), timeStyle: "short" });
	return (
		<p
			role="status"
			className="flex min-h-9 shrink-0 items-center bg-ink px-4 py-1 font-semibold text-white sm:px-6"
		>
			No signal. As it stood at {at}; what you record waits here.
		</p>
	);
}

/** A newer Windrift is here; it comes when somebody says so. */
function Newer() {
	const newer = useNewer();
	if (!newer) return null;
	return (
		<p
			role="status"
			className="flex min-h-11 shrink-0 items-center justify-between gap-4 bg-part px-6 py-1 font-semibold text-ink"
		>
			A newer Windrift is here.
			<Button onClick={takeOver}>Load it now</Button>
		</p>
	);
}

function Acts() {
	const acts = useActs();
	const keptHere = useKeptHere();
	const [open, setOpen] = useState(false);
	useEffect(() => {
		const go = () => void drain();
		go();
		const timer = setInterval(go, AGAIN);
		addEventListener("online", go);
		return () => {
			clearInterval(timer);
			removeEventListener("online", go);
		};
	}, []);
	const refused = acts.filter((a) => a.refused);
	const waiting = acts.length - refused.length;
	// Who recorded something here without being signed in: they show that it was them, and it goes out.
	const shop = useShop();
	const me = useMe();
	const join = useJoin();
	const [asks, setAsks] = useState<string | null>(null);
	const here = me.data?.people.map((p) => p.id) ?? [];
	const absent =
		shop.data?.crew.filter((c) => acts.some((a) => a.held && !a.refused && a.who === c.id)) ?? [];
	const freely = me.data?.open ? absent.filter((c) => !here.includes(c.id)).map((c) => c.id) : [];
	const free = freely.join(" ");
	useEffect(() => {
		// The made-up shop asks for no passphrase. Where one is wanted all the same, the button asks for it.
		for (const id of free.split(" ").filter(Boolean)) join(id, "").catch(() => {});
	}, [free, join]);
	if (acts.length === 0 && !open) return null;
	return (
		<div
			role="status"
			className={`flex min-h-11 shrink-0 flex-wrap items-center justify-between gap-x-4 px-6 py-1 ${
				refused.length > 0 ? "bg-trouble text-white" : "bg-tape text-ink"
			}`}
		>
			<p className="font-semibold">
				{waiting > 0 &&
					`${waiting} waiting to be sent. ${
						keptHere
							? "Kept here; it goes out by itself. "
							: "This browser keeps nothing, or has no room: leave this page open until it is sent. "
					}`}
				{refused.length > 0 &&
					`! ${refused.length} not taken: look at ${refused.length === 1 ? "it" : "them"}.`}
			</p>
			<div className="flex flex-wrap gap-2">
				{absent.map((c) => (
					<Button key={c.id} onClick={() => setAsks(c.id)}>
						{c.name}, show that it was you
					</Button>
				))}
				{acts.length > 0 && <Button onClick={() => setOpen(true)}>Show</Button>}
			</div>
			<JoinSheet who={asks} close={() => setAsks(null)} />
			<Sheet open={open} onOpenChange={setOpen} title="Recorded here" wide>
				{acts.length === 0 && <p className="text-lg">All of it is sent.</p>}
				<ul className="flex flex-col gap-3">
					{acts.map((act) => (
						<Waits key={act.id} act={act} />
					))}
				</ul>
			</Sheet>
		</div>
	);
}

function Waits({ act }: { act: Act }) {
	const shop = useShop();
	const who = shop.data?.crew.find((c) => c.id === act.who)?.name ?? "somebody";
	const when = new Date(act.at).toLocaleString(undefined, { dateStyle: "medium", timeStyle: "short" });
	return (
		<li className="flex flex-wrap items-center gap-3 rounded bg-paper p-4 text-ink">
			<div className="min-w-0 grow">
				<p className="font-semibold">{inWords(act)}</p>
				<p className="text-soft">
					{who}, {when}
				</p>
				{act.refused && <p className="mt-1 text-trouble">! {act.refused.detail}</p>}
			</div>
			{act.refused ? (
				<div className="flex gap-2">
					<Button onClick={() => sendAgain(act.id)}>Send it again</Button>
					<Button onClick={() => leaveOut(act.id)}>I have seen it. Leave it out</Button>
				</div>
			) : (
				<span>{act.held ? `waits until ${who} is signed in here` : "waits"}</span>
			)}
		</li>
	);
}

function inWords({ what }: Act): string {
	switch (what.kind) {
		case "reading": {
			const [first, second] = what.ends ?? ["front", "rear"];
			return `Read ${what.front} at the ${first} flat, ${what.rear} at the ${second} flat`;
		}
		case "lock":
			return "Hinge locked";
		case "upright":
			return `Upright edge read: ${what.top} above, ${what.foot} below`;
		case "photo":
			return "A photo";
		case "audit":
			return "Audit of the marking";
		case "strip":
			return `Old film: ${what.entry.what.replaceAll("_", " ")}`;
		case "prep":
			return `Preparation: ${what.entry.what.replaceAll("_", " ")}`;
		case "heat":
			return `Heat & seal: ${what.entry.what}, ${what.entry.run}`;
		case "bay":
			return `The bay: ${what.entry.what.replaceAll("_", " ")}`;
		case "walk":
			return what.entry.what === "damage"
				? `Found before work: ${what.entry.damage}${what.entry.note ? `, ${what.entry.note}` : ""}`
				: `Walk round: ${what.entry.what.replaceAll("_", " ")}`;
		case "floor":
			switch (what.note.what) {
				case "laid":
					return "It lies";
				case "waited":
					return `Waited ${what.note.minutes} minutes`;
				case "rivets":
					return `Rivets worked down: group ${what.note.group} of ${what.note.groups}`;
				case "trouble":
					return `Trouble: ${what.note.seen.replaceAll("_", " ")} at ${what.note.place}`;
				default:
					return "Something of the floor";
			}
	}
}
