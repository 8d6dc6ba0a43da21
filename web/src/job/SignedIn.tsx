import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import { ask, client } from "../api/client";
import { useMe, useShop } from "../api/queries";
import { Button, Sheet, TroubleNote } from "../ui/parts";
import { useTelling } from "./useTelling";
import { useWho } from "./useWho";

/** As it is while it is looked at: what happens at the door is told by no event. */
const LOOKED_AT = { staleTime: 0, refetchInterval: 5000 };

/** One's own passphrase and PIN, the devices that are signed in, and for the lead what happened at the door. */
export function SignedIn({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
	const me = useMe();
	const { who } = useWho();
	const shop = useShop();
	const member = shop.data?.crew.find((c) => c.id === who);
	return (
		<Sheet open={open} onOpenChange={onOpenChange} title="Passphrase, PIN and devices" wide>
			<div className="grid gap-6">
				{me.data?.open && (
					<p className="text-soft">
						This is the made-up shop: whoever has no passphrase signs in with one press. With one,{" "}
						{member?.name} has to type it.
					</p>
				)}
				<div className="grid gap-4 @2xl:grid-cols-2">
					<Secret
						title="Your passphrase"
						before="The one until now"
						after="The one from now on"
						action="Set the passphrase"
						done="Set. Other devices on which you were signed in are signed out of you."
						save={(before, passphrase) =>
							ask(client.PUT("/api/me/passphrase", { body: { before, passphrase } }))
						}
					/>
					<Secret
						title="Your PIN, for devices on the floor"
						before="Your passphrase"
						after="4 to 8 digits"
						numeric
						action="Set the PIN"
						done="Set. It counts on devices on the floor."
						save={(passphrase, pin) => ask(client.PUT("/api/me/pin", { body: { passphrase, pin } }))}
					/>
				</div>
				<Devices lead={member?.role === "lead"} />
				{member?.role === "lead" && <AtTheDoor />}
			</div>
		</Sheet>
	);
}

function Secret({
	title,
	before,
	after,
	action,
	done,
	save,
	numeric,
}: {
	title: string;
	before: string;
	after: string;
	action: string;
	done: string;
	save: (before: string, after: string) => Promise<unknown>;
	numeric?: boolean;
}) {
	const [old, setOld] = useState("");
	const [fresh, setFresh] = useState("");
	const [said, setSaid] = useState(false);
	const { wrong, tell } = useTelling();
	const id = useId();
	const field = "h-11 min-w-0 rounded border border-soft bg-paper px-3 text-lg";
	return (
		<form
			aria-label={title}
			className="grid content-start gap-2 rounded bg-paper p-4"
			onSubmit={async (e) => {
				e.preventDefault();
				setSaid(false);
				if (!(await tell(save(old, fresh)))) return;
				setOld("");
				setFresh("");
				setSaid(true);
			}}
		>
			<h3 className="font-bold text-lg">{title}</h3>
			<label htmlFor={`${id}o`}>{before}</label>
			<input
				id={`${id}o`}
				type="password"
				autoComplete="current-password"
				value={old}
				maxLength={200}
				onChange={(e) => setOld(e.target.value)}
				className={field}
			/>
			<label htmlFor={`${id}n`}>{after}</label>
			<input
				id={`${id}n`}
				type="password"
				inputMode={numeric ? "numeric" : "text"}
				autoComplete={numeric ? "off" : "new-password"}
				value={fresh}
				maxLength={200}
				onChange={(e) => setFresh(e.target.value)}
				className={field}
			/>
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
			{said && <p role="status">{done}</p>}
			<Button type="submit" disabled={fresh === ""}>
				{action}
			</Button>
		</form>
	);
}

function Devices({ lead }: { lead: boolean }) {
	const cache = useQueryClient();
	const all = useQuery({
		queryKey: ["sessions"],
		queryFn: () => ask(client.GET("/api/sessions")),
		...LOOKED_AT,
	});
	const { wrong, tell } = useTelling();
	const end = (id: string) =>
		tell(
			ask(client.POST("/api/sessions/{id}/end", { params: { path: { id } } })).then(() =>
				cache.invalidateQueries({ queryKey: ["sessions"] }),
			),
		);
	return (
		<section aria-label="Devices that are signed in">
			<h3 className="font-bold text-lg">{lead ? "Devices that are signed in" : "Where you are signed in"}</h3>
			<ul className="mt-2 flex flex-col gap-2">
				{all.data?.map((s) => (
					<li key={s.id} className="flex flex-wrap items-center justify-between gap-3 rounded bg-paper p-3">
						<div>
							<p className="font-semibold">
								{s.device}
								{s.here && ", this one"}: {s.people.join(", ")}
							</p>
							<p className="text-soft">
								{s.floor ? "On the floor, " : ""}since {s.since}, seen {s.seen}, until {s.until}
							</p>
						</div>
						{!s.here && <Button onClick={() => void end(s.id)}>Sign it out</Button>}
					</li>
				))}
			</ul>
			{(wrong || all.error) && <TroubleNote>{wrong ?? all.error?.message}</TroubleNote>}
		</section>
	);
}

function AtTheDoor() {
	const [pages, setPages] = useState<(number | undefined)[]>([undefined]);
	return (
		<section aria-label="What happened at the door">
			<h3 className="font-bold text-lg">What happened at the door</h3>
			<ul className="mt-2 rounded bg-paper p-3">
				{pages.map((before, n) => (
					<Lines
						key={before ?? 0}
						before={before}
						older={n === pages.length - 1 ? (last) => setPages([...pages, last]) : undefined}
					/>
				))}
			</ul>
		</section>
	);
}

function Lines({ before, older }: { before?: number; older?: (last: number) => void }) {
	const lines = useQuery({
		queryKey: ["audit", before ?? 0],
		queryFn: () => ask(client.GET("/api/audit", { params: { query: before ? { before } : {} } })),
		...LOOKED_AT,
	});
	const last = lines.data?.at(-1)?.n;
	return (
		<>
			{lines.data?.map((l) => (
				<li key={l.n} className="grid gap-x-4 border-line border-b py-1 @lg:grid-cols-[11rem_1fr_8rem]">
					<span className="text-soft">{l.at}</span>
					<span className={l.says.startsWith("refused") ? "font-semibold text-trouble" : ""}>
						{l.who ? `${l.who}: ` : ""}
						{l.says}
					</span>
					<span className="text-soft">{l.address}</span>
				</li>
			))}
			{older && last !== undefined && lines.data?.length === 100 && (
				<li className="pt-2">
					<Button onClick={() => older(last)}>Older</Button>
				</li>
			)}
			{lines.error && <TroubleNote>{lines.error.message}</TroubleNote>}
		</>
	);
}
