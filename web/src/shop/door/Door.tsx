import { useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { type ReactNode, useEffect, useRef } from "react";
import { signedOut, Trouble } from "../../api/client";
import { useLive } from "../../api/live";
import { useDoor, useMe } from "../../api/queries";
import { useWho } from "../../job/useWho";
import { TroubleNote, Waiting } from "../../ui/parts";
import { FirstRun } from "./FirstRun";
import { SignIn } from "./SignIn";

/** Nothing of the shop is shown before somebody is signed in. Who is signed out in the middle signs in over the page: what was typed stays under it. */
export function Door({ children }: { children: ReactNode }) {
	const me = useMe();
	const cache = useQueryClient();
	const { who, choose } = useWho();
	const out = me.error instanceof Trouble && me.error.problem.status === 401;
	const door = useDoor(out);
	const been = useRef(false);
	if (me.data && !out) been.current = true;
	useEffect(() => {
		const tell = () => {
			if (been.current) void cache.invalidateQueries({ queryKey: ["me"] });
		};
		signedOut.add(tell);
		return () => {
			signedOut.delete(tell);
		};
	}, [cache]);
	// A question that came between one session and the next was refused: with the new one it is asked again.
	const session = me.data?.session;
	const last = useRef(session);
	useEffect(() => {
		if (!session || session === last.current) return;
		if (last.current) void cache.invalidateQueries({ predicate: (q) => q.queryKey[0] !== "me" });
		last.current = session;
	}, [session, cache]);
	const first = me.data?.people[0]?.id;
	useEffect(() => {
		// Whoever is remembered here goes on; on a device that is signed in anew it is whoever signed in.
		if (first && !me.data?.people.some((p) => p.id === who) && !who) choose(first);
	}, [first, me.data, who, choose]);
	const page = (inside: ReactNode) =>
		been.current ? (
			// Over whatever is open, a sheet with something half typed too.
			<Dialog.Root open>
				<Dialog.Portal>
					<Dialog.Content
						aria-describedby={undefined}
						className="fixed inset-0 z-[70] overflow-auto bg-liner"
						onEscapeKeyDown={(e) => e.preventDefault()}
					>
						<Dialog.Title className="sr-only">Sign in</Dialog.Title>
						{inside}
					</Dialog.Content>
				</Dialog.Portal>
			</Dialog.Root>
		) : (
			<div className="min-h-screen bg-liner">{inside}</div>
		);
	return (
		<>
			{been.current && !out && <Ear />}
			{been.current && children}
			{!been.current && !out && <Waiting what="the shop" error={me.error} />}
			{out && door.data && page(door.data.set_up ? <SignIn door={door.data} /> : <FirstRun />)}
			{out &&
				door.error &&
				page(
					<div className="p-6">
						<TroubleNote>{door.error.message}</TroubleNote>
					</div>,
				)}
		</>
	);
}

/** Hears what others change, while somebody is signed in. */
function Ear() {
	useLive();
	return null;
}
