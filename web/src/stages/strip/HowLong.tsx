import { useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import { type Schemas, told } from "../../api/client";
import { useSettings } from "../../api/settings";
import { NumberField } from "../../readings/NumberField";
import { TroubleNote } from "../../ui/parts";

const minutes = (m: number) =>
	m < 1 ? `${Math.round(m * 60)} s` : m < 10 ? `${m.toFixed(1)} min` : `${Math.round(m)} min`;
const hours = (h: number) => (h < 1 ? `${Math.max(0, Math.round(h * 60))} min` : `${h.toFixed(1)} h`);

/** How long it takes, as a range, and what that follows from. */
export function HowLong({
	old,
	view,
	record,
}: {
	old: Schemas["OldView"];
	view: Schemas["OldFilmView"];
	record: (entry: Schemas["StripEntry"]) => Promise<boolean>;
}) {
	const { settings, save: keep } = useSettings();
	const cache = useQueryClient();
	// The server fills in what was never settled.
	const day = settings?.hours as Required<Schemas["ShopHours"]> | undefined;
	const done = view.done_by;
	const save = async (next: Parameters<typeof keep>[0]) => {
		await keep(next);
		await cache.invalidateQueries({ queryKey: ["strip"] });
	};
	return (
		<div className="grid grid-cols-[minmax(0,1fr)] gap-3 @4xl:grid-cols-2">
			<section aria-label="All that remains" className="rounded bg-paper p-4">
				<h3 className="font-bold text-xl">All that remains on this job</h3>
				{done ? (
					<>
						<Range low={done.hours[0] ?? 0} middle={done.hours[1] ?? 0} high={done.hours[2] ?? 0} />
						<ul className="mt-2">
							{done.why.map((w) => (
								<li key={w} className="py-0.5">
									{w}
								</li>
							))}
						</ul>
					</>
				) : (
					<p>Nothing remains.</p>
				)}
				{view.remover && <p className="mt-1">{view.remover}</p>}
				<div className="mt-3 grid max-w-md grid-cols-2 gap-3">
					<NumberField
						label="People at it"
						value={view.people}
						onCommit={async (people) => {
							await record({ what: "hands", people });
						}}
					/>
					{settings && day && (
						<>
							<NumberField
								label="A second pair adds, %"
								value={Math.round((settings.second_pair ?? 0) * 100)}
								onCommit={(share) => save({ second_pair: share / 100 })}
							/>
							<ClockField
								label="Work begins"
								minutes={day.from_minutes}
								onCommit={(from_minutes) => save({ hours: { ...day, from_minutes } })}
							/>
							<ClockField
								label="Work ends"
								minutes={day.to_minutes}
								onCommit={(to_minutes) => save({ hours: { ...day, to_minutes } })}
							/>
						</>
					)}
				</div>
			</section>
			<section aria-label="Rates" className="rounded bg-paper p-4">
				<h3 className="font-bold text-xl">{old.graphic.name}</h3>
				<table className="w-full text-left">
					<thead>
						<tr className="border-soft border-b-2">
							<th className="py-1 pr-2">For each {old.unit_one}</th>
							<th className="py-1 pr-2 text-right">1 in 10</th>
							<th className="py-1 pr-2 text-right">half</th>
							<th className="py-1 text-right">9 in 10</th>
						</tr>
					</thead>
					<tbody>
						{old.rates.map((r) => (
							<tr key={r.phase} className="border-line border-b align-top">
								<td className="py-1 pr-2">
									{r.phase === "film" ? "Film" : "Adhesive"}
									<span className="block text-soft">
										before: {minutes(r.before[1] ?? 0)}, {r.from}
									</span>
								</td>
								{r.minutes.map((m, n) => (
									<td key={n} className="whitespace-nowrap py-1 pr-2 text-right font-bold font-reading">
										{minutes(m)}
									</td>
								))}
							</tr>
						))}
					</tbody>
				</table>
				<p className="mt-2">
					{old.off
						? "All of it is off."
						: `It takes ${hours(old.hours[0] ?? 0)} to ${hours(old.hours[2] ?? 0)} of one pair of hands.`}
				</p>
			</section>
		</div>
	);
}

/** A range as a bar: one case of ten, half, nine of ten. */
function Range({ low, middle, high }: { low: number; middle: number; high: number }) {
	const most = high * 1.15 || 1;
	const at = (h: number) => `${(h / most) * 100}%`;
	return (
		<div
			className="relative mt-2 h-16"
			role="img"
			aria-label={`Hands-on ${hours(low)} in one case of ten, ${hours(middle)} in half, ${hours(high)} in nine of ten`}
		>
			<div className="absolute top-7 h-3 w-full rounded bg-unworked" />
			<div
				className="absolute top-7 h-3 rounded bg-spruce"
				style={{ left: at(low), width: `${((high - low) / most) * 100}%` }}
			/>
			<div className="absolute top-5 h-7 w-1 bg-ink" style={{ left: at(middle) }} />
			<b
				className="absolute top-0 -translate-x-1/2 whitespace-nowrap font-reading"
				style={{ left: at(middle) }}
			>
				{hours(middle)}
			</b>
			<span className="absolute top-11 whitespace-nowrap font-reading" style={{ left: at(low) }}>
				{hours(low)}
			</span>
			<span
				className="absolute top-11 -translate-x-full whitespace-nowrap font-reading"
				style={{ left: at(high) }}
			>
				{hours(high)}
			</span>
		</div>
	);
}

/** An hour of the shop's day. */
function ClockField({
	label,
	minutes,
	onCommit,
}: {
	label: string;
	minutes: number;
	onCommit: (minutes: number) => Promise<unknown>;
}) {
	const [wrong, setWrong] = useState<string | null>(null);
	const id = useId();
	const two = (n: number) => String(n).padStart(2, "0");
	return (
		<div className="flex min-w-0 flex-col gap-1">
			<label htmlFor={id} className="text-soft">
				{label}
			</label>
			<input
				id={id}
				type="time"
				defaultValue={`${two(Math.floor(minutes / 60))}:${two(minutes % 60)}`}
				key={minutes}
				onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
				onBlur={async (e) => {
					const [h, m] = e.target.value.split(":").map(Number);
					if (h === undefined || m === undefined || h * 60 + m === minutes) return;
					try {
						await onCommit(h * 60 + m);
						setWrong(null);
					} catch (error) {
						setWrong(told(error));
					}
				}}
				className="h-11 min-w-0 rounded border border-soft bg-paper px-3 font-bold font-reading text-lg"
			/>
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
		</div>
	);
}
