import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client, freshKey, told } from "../../api/client";
import { Button, TroubleNote } from "../../ui/parts";

/** What the owner may do and when, and how it reaches the owner: a page, a calendar, a mail. */
export function CarePart({ job, paper }: { job: string; paper: "letter" | "a4" }) {
	const [to, setTo] = useState("");
	/** One mail has one key, however often it is pressed. */
	const [id, setId] = useState(freshKey);
	const care = useQuery({
		queryKey: ["care", job],
		queryFn: () => ask(client.GET("/api/jobs/{id}/care", { params: { path: { id: job } } })),
	});
	const mail = useMutation({
		mutationFn: () =>
			ask(client.POST("/api/jobs/{id}/care-mail", { params: { path: { id: job } }, body: { id, to } })),
		onSuccess: () => setId(freshKey()),
	});
	const view = care.data;
	if (!view) return care.error ? <TroubleNote>{told(care.error)}</TroubleNote> : null;
	const whole = !view.but && view.dates.length > 0;
	const file = "flex min-h-12 items-center justify-between gap-4 rounded bg-paper px-4 hover:bg-sheet";
	return (
		<section aria-label="Looking after it" className="flex min-w-0 flex-col gap-2">
			<h2 className="font-bold text-xl">Looking after it</h2>
			{view.but && <p>{view.but}</p>}
			{view.dates.length > 0 && (
				<ul className="flex flex-col gap-1">
					{view.dates.map((d) => (
						<li key={d.what} className="rounded bg-paper px-3 py-2">
							<p className="flex flex-wrap justify-between gap-x-3">
								<b>{d.title}</b>
								<b>{d.when}</b>
							</p>
							<p>{d.says}</p>
							<p className="text-soft">{d.why}</p>
						</li>
					))}
				</ul>
			)}
			{view.dates.length > 0 && <p className="text-soft">By the clock of {view.zone}.</p>}
			{whole && (
				<>
					<a
						href={`/api/jobs/${job}/care.pdf?paper=${paper}`}
						target="_blank"
						rel="noreferrer"
						className={`${file} font-bold`}
					>
						<span>The page for the owner</span>
						<span>PDF</span>
					</a>
					<a href={`/api/jobs/${job}/care.ics`} className={file}>
						<span>Its dates for a calendar</span>
						<span>ICS</span>
					</a>
					<form
						aria-label="Mail to the owner"
						className="flex flex-wrap items-end gap-2"
						onSubmit={(e) => {
							e.preventDefault();
							if (!mail.isPending) mail.mutate();
						}}
					>
						<label className="flex min-w-0 grow flex-col gap-1">
							Both by mail to
							<input
								value={to}
								type="text"
								inputMode="email"
								autoComplete="off"
								maxLength={200}
								onChange={(e) => setTo(e.target.value)}
								className="h-12 min-w-0 rounded border border-soft bg-sheet px-3"
							/>
						</label>
						<Button type="submit" className="min-h-12" disabled={to.trim() === "" || mail.isPending}>
							Put it into the outbox
						</Button>
					</form>
					{mail.data && <p role="status">✓ {mail.data.says}</p>}
					{mail.error && <TroubleNote>{told(mail.error)}</TroubleNote>}
				</>
			)}
		</section>
	);
}
