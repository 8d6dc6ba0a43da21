import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client, freshKey, type Schemas } from "../../api/client";
import { useShop } from "../../api/queries";
import { useTelling } from "../../job/useTelling";
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
