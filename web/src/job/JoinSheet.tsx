import { useId, useState } from "react";
import { Trouble } from "../api/client";
import { useMe, useShop } from "../api/queries";
import { Button, Sheet, TroubleNote } from "../ui/parts";
import { useTelling } from "./useTelling";
import { useJoin, useWho } from "./useWho";

const KEYS = ["1", "2", "3", "4", "5", "6", "7", "8", "9", "⌫", "0"] as const;

/** Somebody shows on this device that it is them. On the floor there are keys large enough for a glove. */
export function JoinSheet({ who, close }: { who: string | null; close: () => void }) {
	const shop = useShop();
	const me = useMe();
	const join = useJoin();
	const { choose } = useWho();
	const { wrong, tell } = useTelling();
	const [secret, setSecret] = useState("");
	const [words, setWords] = useState(false);
	const id = useId();
	const member = shop.data?.crew.find((c) => c.id === who);
	const pin = me.data?.floor && !words;
	const shut = () => {
		setSecret("");
		setWords(false);
		close();
	};
	const go = async () => {
		if (!who) return;
		// Without a signal nobody can look at it: what is recorded waits until it was shown.
		const shown = join(who, secret).catch((error) => {
			if (!(error instanceof Trouble && error.problem.status === 0)) throw error;
		});
		const done = await tell(shown);
		setSecret("");
		if (!done) return;
		choose(who);
		shut();
	};
	return (
		<Sheet open={member !== undefined} onOpenChange={shut} title={member?.name ?? ""}>
			<form
				className="grid gap-4"
				onSubmit={(e) => {
					e.preventDefault();
					void go();
				}}
			>
				<label htmlFor={id}>{pin ? "Your PIN" : "Your passphrase"}</label>
				<input
					id={id}
					type="password"
					inputMode={pin ? "numeric" : "text"}
					autoComplete="off"
					value={secret}
					maxLength={200}
					onChange={(e) => setSecret(e.target.value)}
					className="h-12 rounded border border-soft bg-sheet px-3 text-2xl"
				/>
				{pin && (
					<div className="grid grid-cols-3 gap-2">
						{KEYS.map((k) => (
							<Button
								key={k}
								className="min-h-14 text-2xl"
								aria-label={k === "⌫" ? "Take the last one back" : k}
								onClick={() => setSecret(k === "⌫" ? secret.slice(0, -1) : secret + k)}
							>
								{k}
							</Button>
						))}
						<Button look="next" type="submit" className="min-h-14 text-xl" disabled={secret === ""}>
							It is me
						</Button>
					</div>
				)}
				{wrong && <TroubleNote>{wrong}</TroubleNote>}
				{!pin && (
					<Button look="next" type="submit" className="text-lg" disabled={secret === ""}>
						It is me
					</Button>
				)}
				{me.data?.floor && (
					<Button onClick={() => setWords(!words)}>{words ? "With my PIN" : "With my passphrase"}</Button>
				)}
			</form>
		</Sheet>
	);
}
