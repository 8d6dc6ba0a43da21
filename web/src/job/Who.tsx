import { DropdownMenu } from "radix-ui";
import { type ReactNode, useEffect, useState } from "react";
import { setCrew, Trouble } from "../api/client";
import { useMe, useShop } from "../api/queries";
import { Sheet, TroubleNote } from "../ui/parts";
import { JoinSheet } from "./JoinSheet";
import { SignedIn } from "./SignedIn";
import { useTelling } from "./useTelling";
import { useJoin, useSignOut, useWho, WhoContext } from "./useWho";

const KEPT = "windrift.crew";
/** Who works at this screen, chosen at the top and remembered here. */
export function WhoProvider({ children }: { children: ReactNode }) {
	const [who, setWho] = useState<string | null>(() => localStorage.getItem(KEPT));
	setCrew(who);
	useEffect(() => {
		if (who) localStorage.setItem(KEPT, who);
	}, [who]);
	return <WhoContext value={{ who, choose: setWho }}>{children}</WhoContext>;
}

const ITEM =
	"flex min-h-11 cursor-pointer items-center justify-between gap-6 rounded px-3 text-lg data-highlighted:bg-tape data-highlighted:outline-none";

/** The choice at the top. Stands out until somebody is chosen: nothing can be recorded before. */
export function WhoChoice() {
	const { who, choose } = useWho();
	const shop = useShop();
	const me = useMe();
	const join = useJoin();
	const signOut = useSignOut();
	const [asks, setAsks] = useState<string | null>(null);
	const [devices, setDevices] = useState(false);
	const { wrong, tell, settle } = useTelling();
	const crew = shop.data?.crew ?? [];
	const chosen = crew.find((c) => c.id === who);
	const here = me.data?.people.map((p) => p.id) ?? [];
	const take = async (id: string) => {
		// On the floor a person shows each time that it is them; who is signed in at a desk is there already.
		if (here.includes(id) && (me.data?.open || !me.data?.floor)) return choose(id);
		if (!me.data?.open) return setAsks(id);
		try {
			await join(id, "");
			choose(id);
		} catch (error) {
			// Without a signal what they record is kept, and sent once they have shown that it was them.
			if (error instanceof Trouble && error.problem.status === 0) choose(id);
			else setAsks(id);
		}
	};
	return (
		<>
			<DropdownMenu.Root>
				<DropdownMenu.Trigger
					aria-label="Who are you?"
					className={`flex h-9 min-w-20 items-center justify-between gap-2 rounded px-3 font-semibold sm:min-w-24 ${
						chosen ? "border border-line bg-paper" : "bg-trouble text-white"
					}`}
				>
					<span>{chosen?.name ?? "Who are you?"}</span>
					<span aria-hidden>▾</span>
				</DropdownMenu.Trigger>
				<DropdownMenu.Portal>
					<DropdownMenu.Content
						align="end"
						sideOffset={4}
						className="z-50 min-w-64 rounded border border-line bg-paper p-1 shadow-lg"
					>
						<DropdownMenu.RadioGroup value={who ?? ""} onValueChange={(id) => void take(id)}>
							{crew.map((member) => (
								<DropdownMenu.RadioItem key={member.id} value={member.id} className={ITEM}>
									<span className={member.id === who ? "font-bold" : ""}>{member.name}</span>
									<span className="text-base text-soft">
										{member.role}
										{me.data && !me.data.open && !here.includes(member.id) && ", not signed in here"}
									</span>
								</DropdownMenu.RadioItem>
							))}
						</DropdownMenu.RadioGroup>
						<DropdownMenu.Separator className="my-1 border-line border-t" />
						<DropdownMenu.Item className={ITEM} onSelect={() => setDevices(true)}>
							Passphrase, PIN and devices
						</DropdownMenu.Item>
						<DropdownMenu.Item className={ITEM} onSelect={() => void tell(signOut())}>
							Sign this device out
						</DropdownMenu.Item>
					</DropdownMenu.Content>
				</DropdownMenu.Portal>
			</DropdownMenu.Root>
			<JoinSheet who={asks} close={() => setAsks(null)} />
			<SignedIn open={devices} onOpenChange={setDevices} />
			<Sheet open={wrong !== null} onOpenChange={settle} title="This device is still signed in">
				<TroubleNote>
					Only the shop can end it, and the shop did not answer. When there is a signal sign it out here, or
					from the list of devices on another one.
				</TroubleNote>
			</Sheet>
		</>
	);
}
