import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client, freshKey, type Schemas } from "../../api/client";
import { useShop } from "../../api/queries";
import { useTelling } from "../../job/useTelling";
import { useWho } from "../../job/useWho";
import { TextField } from "../../readings/TextField";
import { Button, Choice, Sheet, TroubleNote } from "../../ui/parts";

const ROLES: { value: Schemas["Role"]; text: string }[] = [
	{ value: "lead", text: "leads: settles the shop's figures" },
	{ value: "fitter", text: "fitter: works on jobs" },
	{ value: "viewer", text: "looks and prints" },
];

/** Who works here: added, renamed, given a part. */
export function Crew({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
	const shop = useShop();
	const cache = useQueryClient();
	const { wrong, tell } = useTelling();
	const [name, setName] = useState("");
	const [fresh, setFresh] = useState(freshKey);
	const { who } = useWho();
	const leads = shop.data?.crew.find((c) => c.id === who)?.role === "lead";
	const put = async (id: string, member: Schemas["CrewMember"]) => {
		await ask(client.PUT("/api/crew/{id}", { params: { path: { id } }, body: member }));
		await cache.invalidateQueries({ queryKey: ["shop"] });
	};
	return (
		<Sheet open={open} onOpenChange={onOpenChange} title="Crew">
			<ul className="flex flex-col gap-3">
				{shop.data?.crew.map((c) => (
					<li key={c.id} className="grid items-end gap-3 rounded bg-paper p-3 @md:grid-cols-2">
						<TextField
							label="Name"
							value={c.name}
							onCommit={(text) => put(c.id, { name: text, role: c.role as Schemas["Role"] })}
						/>
						<Choice
							label={`What ${c.name} does`}
							value={c.role as Schemas["Role"]}
							options={ROLES}
							onChange={(role) => tell(put(c.id, { name: c.name, role }))}
						/>
						{leads && <ComesIn member={c} />}
					</li>
				))}
			</ul>
			<form
				className="mt-4 flex flex-wrap items-end gap-3"
				onSubmit={(e) => {
					e.preventDefault();
					void tell(put(fresh, { name, role: "fitter" })).then((done) => {
						if (!done) return;
						setName("");
						setFresh(freshKey());
					});
				}}
			>
				<label className="flex min-w-0 grow flex-col gap-1">
					<span>Somebody new</span>
					<input
						value={name}
						maxLength={40}
						onChange={(e) => setName(e.target.value)}
						className="h-11 rounded border border-soft bg-paper px-3 text-lg"
					/>
				</label>
				<Button type="submit" disabled={name.trim() === ""}>
					Add to the crew
				</Button>
			</form>
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
		</Sheet>
	);
}

/** How somebody of the crew may come in, and what the lead does about it. */
function ComesIn({ member }: { member: Schemas["CrewView"] }) {
	const cache = useQueryClient();
	const { who } = useWho();
	const { wrong, tell } = useTelling();
	const [made, setMade] = useState<Schemas["CrewCode"] | null>(null);
	const [sure, setSure] = useState(false);
	const all = useQuery({ queryKey: ["access"], queryFn: () => ask(client.GET("/api/crew/access")) });
	const access = all.data?.find((a) => a.crew === member.id);
	const params = { path: { id: member.id } };
	const after = () => cache.invalidateQueries({ queryKey: ["access"] });
	const code = async () => {
		setMade(await ask(client.POST("/api/crew/{id}/code", { params })));
		await after();
	};
	const out = async () => {
		await ask(client.POST("/api/crew/{id}/shut-out", { params }));
		setMade(null);
		setSure(false);
		await after();
	};
	const says = () => {
		if (!access) return "";
		if (access.code_until) return `has a code for the first time, good until ${access.code_until}`;
		if (access.passphrase)
			return access.pin ? "signs in with passphrase or PIN" : "signs in with a passphrase";
		return "has no passphrase yet";
	};
	return (
		<div className="flex flex-wrap items-center gap-3 @md:col-span-2">
			<p className="min-w-0 grow text-soft">
				{member.name} {says()}.
			</p>
			{member.id !== who && (
				<>
					<Button onClick={() => void tell(code())}>
						{access?.passphrase ? "Forgot it: make a code" : "Make a code to sign in"}
					</Button>
					{(access?.passphrase || access?.code_until) &&
						(sure ? (
							<Button look="trouble" onClick={() => void tell(out())}>
								Yes, let {member.name} in no more
							</Button>
						) : (
							<Button onClick={() => setSure(true)}>Let in no more</Button>
						))}
				</>
			)}
			{made && (
				<p role="status" className="w-full rounded border-tape border-l-4 bg-tape-pale p-3">
					<strong className="block select-all font-mono text-2xl">{made.code}</strong>
					{member.name} types this as the passphrase, once, before {made.until}, and then chooses one. It is
					not shown again.
				</p>
			)}
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
		</div>
	);
}
