import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client, freshKey, type Schemas, told } from "../../api/client";
import { useWalk } from "../../api/queries";
import { useTelling } from "../../job/useTelling";
import { Button, TroubleNote } from "../../ui/parts";

/** Links by which the customer sees this job and no other, and signs. */
export function LinksPart({ job }: { job: string }) {
	const cache = useQueryClient();
	const walk = useWalk(job);
	const [whom, setWhom] = useState("");
	const [days, setDays] = useState("14");
	const [fresh, setFresh] = useState(freshKey);
	const [made, setMade] = useState<Schemas["MadeLink"] | null>(null);
	const [copied, setCopied] = useState(false);
	const { wrong, tell } = useTelling();
	const params = { path: { id: job } };
	const links = useQuery({
		queryKey: ["links", job],
		queryFn: () => ask(client.GET("/api/jobs/{id}/links", { params })),
	});
	const after = () => cache.invalidateQueries({ queryKey: ["links", job] });
	const make = async () => {
		const body = { id: fresh, whom, days: Number(days) || 0 };
		setMade(await ask(client.POST("/api/jobs/{id}/links", { params, body })));
		setCopied(false);
		setWhom("");
		setFresh(freshKey());
		await after();
	};
	const withdraw = (id: string) =>
		tell(ask(client.POST("/api/links/{id}/withdraw", { params: { path: { id } } })).then(after));
	const address = made ? `${location.origin}${made.path}` : "";
	const copy = async () => {
		try {
			await navigator.clipboard.writeText(address);
			setCopied(true);
		} catch {
			// Not allowed here: it stands there to be marked and copied by hand.
		}
	};
	const field = "h-11 min-w-0 rounded border border-soft bg-paper px-3 text-lg";
	return (
		<section aria-label="Shown to the customer" className="flex min-w-0 flex-col gap-2">
			<h2 className="font-bold text-xl">Shown to the customer</h2>
			<p>
				{walk.data?.received
					? `Back with the customer: ${walk.data.received}.`
					: "A link shows this job and no other: what was found, how to look after it, its papers. The customer signs there."}
			</p>
			<form
				aria-label="Make a link"
				className="flex flex-wrap items-end gap-2"
				onSubmit={(e) => {
					e.preventDefault();
					void tell(make());
				}}
			>
				<label className="flex min-w-0 grow flex-col">
					<span>For whom</span>
					<input value={whom} maxLength={60} onChange={(e) => setWhom(e.target.value)} className={field} />
				</label>
				<label className="flex flex-col">
					<span>Days</span>
					<input
						value={days}
						inputMode="numeric"
						maxLength={4}
						onChange={(e) => setDays(e.target.value)}
						className={`${field} w-20`}
					/>
				</label>
				<Button type="submit">Make a link</Button>
			</form>
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
			{made && (
				<div role="status" className="rounded border-tape border-l-4 bg-tape-pale p-3">
					<p className="select-all break-all font-reading" data-testid="made-link">
						{address}
					</p>
					<p className="mt-1">Good until {made.until}. It is not shown again.</p>
					<Button className="mt-2" onClick={() => void copy()}>
						{copied ? "Copied" : "Copy it"}
					</Button>
				</div>
			)}
			{links.error && <TroubleNote>{told(links.error)}</TroubleNote>}
			<ul className="flex flex-col gap-1">
				{links.data?.map((l) => (
					<li
						key={l.id}
						className="flex flex-wrap items-center justify-between gap-2 rounded bg-paper px-3 py-2"
					>
						<span className={l.opens ? "" : "text-soft"}>
							<b>{l.whom}</b>, {l.stands}, made by {l.by} {l.made}
							{l.opened ? `, opened ${l.opened}` : ", not opened yet"}
						</span>
						{l.opens && <Button onClick={() => void withdraw(l.id)}>Withdraw</Button>}
					</li>
				))}
			</ul>
		</section>
	);
}
