import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import { ask, client, freshKey, type Schemas, told } from "../../api/client";
import { Scene } from "../../drawing/Scene";
import { useTelling } from "../../job/useTelling";
import { Button, TroubleNote, Waiting } from "../../ui/parts";

/** What a customer sees who holds a link: their vehicle, what was found on it, how to look after it, and where they sign. Nothing else. */
export function Shared() {
	const { token = "" } = useParams();
	const params = { path: { token } };
	const job = useQuery({
		queryKey: ["shared", token],
		queryFn: () => ask(client.GET("/api/shared/{token}", { params })),
	});
	const walk = useQuery({
		queryKey: ["shared", token, "walk"],
		enabled: job.data !== undefined,
		queryFn: () => ask(client.GET("/api/shared/{token}/walk-round", { params })),
	});
	const care = useQuery({
		queryKey: ["shared", token, "care"],
		enabled: job.data !== undefined,
		queryFn: () => ask(client.GET("/api/shared/{token}/care", { params })),
	});
	if (!job.data)
		return job.error ? (
			<main className="mx-auto max-w-3xl p-6">
				<TroubleNote>{told(job.error)}</TroubleNote>
			</main>
		) : (
			<Waiting what="your vehicle" />
		);
	const { shop, job: view, plan, until } = job.data;
	const worked = view.sides.filter((s) => s.pieces > 0);
	const shown = worked.length > 0 ? worked : view.sides.slice(0, 1);
	const found = walk.data?.sides.filter((s) => s.damage.length + s.doubts.length > 0) ?? [];
	const findings = found.reduce((n, s) => n + s.damage.length + s.doubts.length, 0);
	return (
		<main className="mx-auto flex w-full max-w-4xl flex-col gap-6 p-4 sm:p-6">
			<header>
				<p className="text-soft text-xl">{shop}</p>
				<h1 className="font-bold text-3xl">{view.title}</h1>
				<p className="text-soft">
					{view.customer}, {view.vehicle.toLowerCase()}. This page is there until {until}.
				</p>
			</header>
			{shown.map((side) => (
				<Side
					key={side.id}
					side={side}
					found={walk.data?.sides.find((s) => s.side === side.id)?.damage ?? []}
				/>
			))}
			<section aria-label="Found before work" className="rounded bg-paper p-4">
				<h2 className="font-bold text-xl">Found before work</h2>
				{walk.data && findings === 0 && <p>Nothing was found on it.</p>}
				{found.map((s) => (
					<div key={s.side} className="mt-2">
						<h3 className="font-bold first-letter:uppercase">{s.name}</h3>
						<ul className="flex flex-col divide-y divide-line">
							{s.damage.map((d) => (
								<li key={d.entry} className="flex items-center gap-3 py-1.5">
									<strong className="w-6 shrink-0 text-center">{d.number}</strong>
									{d.damage.photo && (
										<img
											src={`/api/shared/${token}/photos/${d.damage.photo}`}
											alt={`${d.name}, number ${d.number}`}
											className="h-16 rounded"
										/>
									)}
									<span>
										{d.name}, {d.size} large, {d.back} back, {d.drop} down. {d.damage.note}
									</span>
								</li>
							))}
							{s.doubts.map((d) => (
								<li key={d.entry} className="py-1.5">
									Paint: {d.note}
								</li>
							))}
						</ul>
					</div>
				))}
				{walk.data && (
					<Sign
						token={token}
						what="walk_round"
						action="I agree to what was found"
						signed={
							walk.data.signed && walk.data.signed.changed_since === 0
								? `${walk.data.signed.name}, ${walk.data.signed_at}`
								: null
						}
						note={
							walk.data.signed && walk.data.signed.changed_since > 0
								? `${walk.data.signed.changed_since} changed since ${walk.data.signed.name} signed.`
								: null
						}
					/>
				)}
			</section>
			{care.data && care.data.dates.length > 0 && !care.data.but && (
				<section aria-label="Looking after it" className="rounded bg-paper p-4">
					<h2 className="font-bold text-xl">Looking after it</h2>
					<ul className="mt-2 flex flex-col divide-y divide-line">
						{care.data.dates.map((d) => (
							<li key={d.what} className="py-1.5">
								<p className="flex flex-wrap justify-between gap-x-4 font-bold">
									<span>{d.title}</span>
									<span>{d.when}</span>
								</p>
								<p>{d.says}</p>
							</li>
						))}
					</ul>
				</section>
			)}
			<section aria-label="Handed over" className="flex flex-col gap-3 rounded bg-paper p-4">
				<h2 className="font-bold text-xl">Handed over</h2>
				{care.data?.but && <p>It is still being worked on. When all of it lies, you sign here.</p>}
				{plan !== null && plan !== undefined && (
					<a
						href={`/api/shared/${token}/packet.pdf?paper=letter`}
						target="_blank"
						rel="noreferrer"
						className="flex min-h-12 items-center justify-between rounded border border-soft px-4 font-bold"
					>
						<span>What was done, plan {plan}</span>
						<span>PDF</span>
					</a>
				)}
				{walk.data && !care.data?.but && (
					<Sign
						token={token}
						what="hand_over"
						action="I have the vehicle back"
						signed={walk.data.received ?? null}
						note={null}
					/>
				)}
			</section>
		</main>
	);
}

function Side({ side, found }: { side: Schemas["SideSummary"]; found: Schemas["DamageView"][] }) {
	const [x = 0, y = 0, w = 1, h = 1] = side.drawing.bounds;
	// Drawn for a page of this width, px; it fits itself to whatever it is shown on.
	const scale = 900 / w;
	const pad = 4;
	return (
		<figure>
			<svg
				viewBox={`0 0 ${w * scale + 2 * pad} ${h * scale + 2 * pad}`}
				className="block max-h-[60vh] w-full"
				role="img"
				aria-label={side.name}
			>
				<Scene drawing={side.drawing} pieces={[]} frame={{ scale, x: x - pad / scale, y: y - pad / scale }} />
				<g transform={`scale(${scale}) translate(${-x + pad / scale} ${-y + pad / scale})`}>
					{side.film.map((film) => (
						<path key={film.path} d={film.path} fill={film.colour} fillRule="evenodd" />
					))}
				</g>
				{found.map(({ number, at: [right = 0, down = 0] }) => (
					<g
						key={number}
						transform={`translate(${(right - x) * scale + pad} ${(down - y) * scale + pad})`}
						className="text-trouble"
					>
						<circle r={17} fill="currentColor" />
						<text textAnchor="middle" dy="0.35em" fontSize={22} fontWeight="bold" fill="var(--color-paper)">
							{number}
						</text>
					</g>
				))}
			</svg>
			<figcaption className="text-soft first-letter:uppercase">{side.name}</figcaption>
		</figure>
	);
}

function Sign({
	token,
	what,
	action,
	signed,
	note,
}: {
	token: string;
	what: Schemas["SharedWhat"];
	action: string;
	signed: string | null;
	note: string | null;
}) {
	const cache = useQueryClient();
	const [name, setName] = useState("");
	const [id] = useState(freshKey);
	const { wrong, tell } = useTelling();
	if (signed) return <p className="mt-3 font-semibold">✓ Signed: {signed}</p>;
	const sign = async () => {
		const walk = await ask(
			client.POST("/api/shared/{token}/sign", { params: { path: { token } }, body: { id, name, what } }),
		);
		cache.setQueryData(["shared", token, "walk"], walk);
	};
	return (
		<form
			aria-label={action}
			className="mt-3 flex flex-wrap items-end gap-3"
			onSubmit={(e) => {
				e.preventDefault();
				void tell(sign());
			}}
		>
			{note && <p className="w-full font-semibold">{note}</p>}
			<label className="flex min-w-0 grow flex-col">
				<span>Your name, as your signature</span>
				<input
					value={name}
					maxLength={60}
					autoComplete="name"
					onChange={(e) => setName(e.target.value)}
					className="h-12 rounded border border-soft bg-sheet px-3 text-lg"
				/>
			</label>
			<Button look="next" type="submit" className="min-h-12 text-lg">
				{action}
			</Button>
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
		</form>
	);
}
