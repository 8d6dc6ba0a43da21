import { Select } from "radix-ui";
import { createContext, type ReactNode, useContext, useEffect, useState } from "react";
import { setCrew } from "../api/client";
import { useShop } from "../api/queries";

const KEPT = "windrift.crew";
const WhoContext = createContext<{ who: string | null; choose: (id: string) => void }>({
	who: null,
	choose: () => {},
});

/** Who works at this screen, chosen at the top and remembered here. */
export function WhoProvider({ children }: { children: ReactNode }) {
	const [who, setWho] = useState<string | null>(() => localStorage.getItem(KEPT));
	setCrew(who);
	useEffect(() => {
		if (who) localStorage.setItem(KEPT, who);
	}, [who]);
	return <WhoContext value={{ who, choose: setWho }}>{children}</WhoContext>;
}

export const useWho = () => useContext(WhoContext);

/** The choice at the top. Stands out until somebody is chosen: nothing can be recorded before. */
export function WhoChoice() {
	const { who, choose } = useWho();
	const shop = useShop();
	const crew = shop.data?.crew ?? [];
	const chosen = crew.find((c) => c.id === who);
	return (
		<Select.Root value={chosen ? chosen.id : ""} onValueChange={choose}>
			<Select.Trigger
				aria-label="Who are you?"
				className={`flex h-9 min-w-20 items-center sm:min-w-24 justify-between gap-2 rounded px-3 font-semibold ${
					chosen ? "border border-line bg-paper" : "bg-trouble text-white"
				}`}
			>
				<Select.Value placeholder="Who are you?">{chosen?.name}</Select.Value>
				<Select.Icon aria-hidden>▾</Select.Icon>
			</Select.Trigger>
			<Select.Portal>
				<Select.Content
					position="popper"
					sideOffset={4}
					className="z-50 rounded border border-line bg-paper p-1 shadow-lg"
				>
					<Select.Viewport>
						{crew.map((member) => (
							<Select.Item
								key={member.id}
								value={member.id}
								className="flex min-h-11 cursor-pointer items-center justify-between gap-6 rounded px-3 text-lg data-highlighted:bg-tape data-highlighted:outline-none"
							>
								<Select.ItemText>{member.name}</Select.ItemText>
								<span className="text-base text-soft">{member.role}</span>
							</Select.Item>
						))}
					</Select.Viewport>
				</Select.Content>
			</Select.Portal>
		</Select.Root>
	);
}
