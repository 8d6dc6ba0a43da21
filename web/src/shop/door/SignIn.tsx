import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client, type Schemas, setCrew, Trouble, told } from "../../api/client";
import { drain } from "../../api/outbox";
import { useWho } from "../../job/useWho";
import { Button, TroubleNote } from "../../ui/parts";
import { Field } from "./Field";

/** What this device is called, until somebody calls it otherwise. */
const deviceHere = () => (/Mobi|Android|iPhone|iPad/.test(navigator.userAgent) ? "Phone" : "Desk");

/** Name and passphrase; in the made-up shop one press. */
export function SignIn({ door }: { door: Schemas["DoorView"] }) {
	const cache = useQueryClient();
	const { choose } = useWho();
	const [name, setName] = useState("");
	const [passphrase, setPassphrase] = useState("");
	const [own, setOwn] = useState<string | null>(null);
	const [floor, setFloor] = useState(false);
	const [device, setDevice] = useState(deviceHere);
	const [wrong, setWrong] = useState<string | null>(null);
	const [busy, setBusy] = useState(false);
	const go = async (body: Schemas["SignIn"]) => {
		setBusy(true);
		try {
			const me = await ask(client.POST("/api/sign-in", { body }));
			const first = me.people[0]?.id;
			if (first) {
				setCrew(first);
				choose(first);
			}
			setWrong(null);
			cache.setQueryData(["me"], me);
			// What others were told is not what this one is told.
			await cache.invalidateQueries({ predicate: (q) => q.queryKey[0] !== "me" });
			await drain();
		} catch (error) {
			if (error instanceof Trouble && error.problem.code === "choose_own") {
				setOwn("");
				setWrong(null);
			} else setWrong(told(error));
		} finally {
			setBusy(false);
		}
	};
	return (
		<form
			aria-label="Sign in"
			className="mx-auto my-8 grid w-full max-w-xl gap-5 rounded bg-paper p-6"
			onSubmit={(e) => {
				e.preventDefault();
				void go({ name, passphrase, own, floor, device });
			}}
		>
			<p className="flex items-center gap-3">
				<img src="/mark.svg" alt="" width={30} height={30} />
				<span className="font-bold text-2xl">Windrift</span>
				<span className="text-soft text-xl">{door.shop}</span>
			</p>
			<h1 className="font-bold text-2xl">{door.open ? "A made-up shop: come in." : "Who is there?"}</h1>
			{door.open && (
				<>
					<p>
						Nothing here is anybody’s: one press signs in, without a passphrase. A shop of your own asks for
						one.
					</p>
					<div className="grid gap-3">
						{door.crew.map((c, n) => (
							<Button
								key={c.id}
								look={n === 0 ? "next" : "plain"}
								className="flex min-h-14 items-center justify-between text-xl"
								disabled={busy}
								onClick={() => void go({ name: c.name, floor, device })}
							>
								<span>{c.name}</span>
								<span className="font-normal text-base">{c.role}</span>
							</Button>
						))}
					</div>
				</>
			)}
			{door.nobody && <TroubleNote>{door.nobody}</TroubleNote>}
			<details open={!door.open} className="group">
				<summary className={door.open ? "flex min-h-11 cursor-pointer items-center text-soft" : "hidden"}>
					With a name and a passphrase
				</summary>
				<div className="grid gap-4">
					<Field label="Name" value={name} onChange={setName} autoComplete="username" />
					<Field
						label="Passphrase"
						value={passphrase}
						onChange={setPassphrase}
						secret
						autoComplete="current-password"
					/>
					{own !== null && (
						<>
							<p className="font-semibold">
								That was right, for this once. From now on you sign in with a passphrase of your own: some
								words, 10 characters or more.
							</p>
							<Field
								label="A passphrase of your own"
								value={own}
								onChange={setOwn}
								secret
								autoComplete="new-password"
							/>
						</>
					)}
					<label className="flex min-h-11 items-center gap-3">
						<input
							type="checkbox"
							checked={floor}
							onChange={(e) => setFloor(e.target.checked)}
							className="size-6 shrink-0 accent-spruce"
						/>
						<span>A device on the floor: signed in for a day, people switch by PIN</span>
					</label>
					{floor && <Field label="What the device is called" value={device} onChange={setDevice} />}
					<Button look={door.open ? "plain" : "next"} type="submit" className="text-lg" disabled={busy}>
						Sign in
					</Button>
				</div>
			</details>
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
		</form>
	);
}
