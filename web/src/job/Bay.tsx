import { useState } from "react";
import type { Schemas } from "../api/client";
import { Button, Choice, Sheet, TroubleNote } from "../ui/parts";
import { clock } from "./clock";
import { Sensors } from "./Sensors";
import { useNow } from "./useNow";

type Bay = Schemas["BayView"];
type Wet = Schemas["Wet"];

/** The bay that the vehicle stands in: what is wet there, until when heat waits, and its air. */
export function BayPart({
	bay,
	wrong,
	onEntry,
}: {
	bay: Bay;
	/** What was refused last: behind an open sheet nobody would read it. */
	wrong: string | null;
	onEntry: (entry: Schemas["BayEntry"]) => Promise<unknown>;
}) {
	const [asking, setAsking] = useState<"wet" | "bay" | "sensors" | null>(null);
	const [wet, setWet] = useState<Wet>("alcohol");
	const [place, setPlace] = useState("");
	const [name, setName] = useState("");
	const [nameless, setNameless] = useState(false);
	const [openAir, setOpenAir] = useState<"hall" | "open">("hall");
	// What was refused before the sheet was opened is not said again in it.
	const [refused, setRefused] = useState(false);
	const ask = (what: typeof asking) => {
		setRefused(false);
		setNameless(false);
		setAsking(what);
	};
	const enter = async (entry: Schemas["BayEntry"]) => {
		const taken = Boolean(await onEntry(entry));
		setRefused(!taken);
		if (taken) setAsking(null);
	};
	const now = useNow(bay.wet.length > 0);
	const still = bay.wet.filter((w) => Date.parse(w.until) > now);
	return (
		<section aria-label="The bay" className="rounded bg-paper p-4">
			<div className="flex flex-wrap items-center justify-between gap-2">
				<h3 className="font-bold text-xl">
					{bay.name}
					{bay.open_air && ", in the open"}
				</h3>
				<div className="flex flex-wrap gap-2">
					<Button className="min-h-14" onClick={() => ask("wet")}>
						Something is wet
					</Button>
					<Button className="min-h-14" onClick={() => ask("bay")}>
						It stands elsewhere
					</Button>
					<Button className="min-h-14" onClick={() => ask("sensors")}>
						Sensors
					</Button>
				</div>
			</div>
			{bay.air && (
				<p>
					Air <b className="font-reading">{bay.air.says}</b>, read {bay.air.at}.
				</p>
			)}
			{bay.sensors.map((s) => (
				<p key={s.id} className={s.doubt ? "text-trouble" : "text-soft"}>
					{s.doubt ? "! " : ""}
					Sensor {s.name}: {s.doubt ?? `read ${s.last}`}
				</p>
			))}
			{still.length > 0 && (
				<ul className="mt-2" aria-label="Wet in the bay">
					{still.map((w) => (
						<li
							key={`${w.wet} ${w.place} ${w.until}`}
							className="flex items-baseline justify-between gap-4 border-line border-t py-1"
						>
							<span>
								{w.name}
								{w.place.trim() && `, ${w.place}`}
							</span>
							<b className="font-reading text-2xl" role="timer">
								{clock((Date.parse(w.until) - now) / 1000)}
							</b>
						</li>
					))}
				</ul>
			)}
			<p className="mt-1 text-soft">
				{still.some((w) => w.wet !== "flame")
					? "No heat in this bay until all of it has flashed off. The hours are Windrift’s own; the safety sheet decides."
					: "Nothing that was noted here is wet."}
			</p>
			<Sheet
				open={asking === "sensors"}
				onOpenChange={(open) => !open && setAsking(null)}
				title="Sensors"
				wide
			>
				<Sensors bay={bay.name} />
			</Sheet>
			<Sheet open={asking === "wet"} onOpenChange={(open) => !open && setAsking(null)} title="What is wet?">
				<form
					className="flex flex-col gap-3"
					onSubmit={async (e) => {
						e.preventDefault();
						await enter({ what: "wet", wet, place, bay: "" });
					}}
				>
					{refused && wrong && <TroubleNote>{wrong}</TroubleNote>}
					<Choice
						label="What"
						value={wet}
						options={bay.wets.map((w) => ({ value: w.value, text: w.name }))}
						onChange={setWet}
					/>
					<label className="flex flex-col gap-1">
						Where
						<input
							value={place}
							maxLength={60}
							onChange={(e) => setPlace(e.target.value)}
							className="h-14 rounded border border-soft bg-paper px-3"
						/>
					</label>
					<Button type="submit" look="next" className="min-h-16">
						It is wet from now on
					</Button>
				</form>
			</Sheet>
			<Sheet
				open={asking === "bay"}
				onOpenChange={(open) => !open && setAsking(null)}
				title="Where does it stand?"
			>
				<div className="flex flex-col gap-3">
					{nameless && <TroubleNote>Say which bay or place, in 1 to 60 characters.</TroubleNote>}
					{refused && wrong && !nameless && <TroubleNote>{wrong}</TroubleNote>}
					{bay.others.map((o) => (
						<Button
							key={o.name}
							className="min-h-16"
							onClick={() => enter({ what: "stands_in", bay: o.name, open_air: o.open_air })}
						>
							{o.name}
							{o.open_air && ", in the open"}
						</Button>
					))}
					<form
						className="flex flex-wrap items-end gap-2"
						onSubmit={async (e) => {
							e.preventDefault();
							if (name.trim() === "") {
								setNameless(true);
								return;
							}
							setNameless(false);
							await enter({ what: "stands_in", bay: name, open_air: openAir === "open" });
						}}
					>
						<label className="flex min-w-0 grow flex-col gap-1">
							A place with another name
							<input
								value={name}
								maxLength={60}
								onChange={(e) => setName(e.target.value)}
								className="h-14 rounded border border-soft bg-paper px-3"
							/>
						</label>
						<Choice
							label="Under a roof?"
							value={openAir}
							options={[
								{ value: "hall", text: "a bay or a hall" },
								{ value: "open", text: "in the open" },
							]}
							onChange={setOpenAir}
						/>
						<Button type="submit" className="min-h-14">
							It stands there
						</Button>
					</form>
				</div>
			</Sheet>
		</section>
	);
}

/** Said before heat goes on, for as long as something is wet. */
export const HeatLocked = ({ bay }: { bay: Bay }) =>
	bay.heat_locked ? <TroubleNote>{bay.heat_locked}</TroubleNote> : null;
