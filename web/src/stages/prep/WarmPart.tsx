import { useState } from "react";
import type { Schemas } from "../../api/client";
import { FloorField } from "../../job/FloorField";
import type { useFloorRecord } from "../../job/useFloorRecord";
import { Button, Choice, TroubleNote } from "../../ui/parts";
import { YardPart } from "./YardPart";

type View = Schemas["PrepView"];

/** A temperature as the shop's thermometer shows it, in °C; nothing where it is none. */
const celsius = (text: string, unit: Schemas["Unit"]) => {
	const read = Number(text.trim().replace(",", "."));
	if (text.trim() === "" || !Number.isFinite(read)) return null;
	return unit === "millimetre" ? read : (read - 32) / 1.8;
};
const degrees = (unit: Schemas["Unit"]) => (unit === "millimetre" ? "°C" : "°F");

/** How warm and dry it is, as it is read, and when it will be warm. */
export function WarmPart({
	view,
	side,
	record,
}: {
	view: View;
	side: string;
	record: ReturnType<typeof useFloorRecord>;
}) {
	const [panel, setPanel] = useState("");
	const [spot, setSpot] = useState<Schemas["PanelSpot"]>("low");
	const [by, setBy] = useState<Schemas["ReadBy"]>(view.bright_metal ? "tape_patch" : "infrared");
	const [air, setAir] = useState("");
	const [humidity, setHumidity] = useState("");
	const [hours, setHours] = useState("");
	const [wrong, setWrong] = useState<string | null>(null);
	const sign = degrees(view.unit);
	const readPanel = async () => {
		const read = celsius(panel, view.unit);
		if (read === null) {
			setWrong(
				`“${panel}” is no temperature. Type degrees, such as ${view.unit === "millimetre" ? "20" : "68"}.`,
			);
			return;
		}
		setWrong(null);
		if (!(await record.prep({ what: "panel", side, spot, by, celsius: read }))) return;
		setPanel("");
		// The next point is asked for by itself: low, over a member, in the middle.
		setSpot(spot === "low" ? "member" : spot === "member" ? "field" : "low");
	};
	const readAir = async () => {
		const read = celsius(air, view.unit);
		const percent = Number(humidity.trim().replace(",", ".").replace("%", ""));
		if (read === null || humidity.trim() === "" || !Number.isFinite(percent)) {
			setWrong("Type the air’s temperature and its humidity in percent, such as 68 and 45.");
			return;
		}
		setWrong(null);
		if (await record.bay({ what: "air", celsius: read, humidity: percent, bay: "" })) {
			setAir("");
			setHumidity("");
		}
	};
	return (
		<div className="grid grid-cols-[minmax(0,1fr)] gap-3 @4xl:grid-cols-2">
			<section aria-label="Readings" className="rounded bg-paper p-4">
				{wrong && <TroubleNote>{wrong}</TroubleNote>}
				{view.bay.open_air && <YardPart view={view} side={side} record={record} />}
				<form
					aria-label="Read the panel"
					className="flex flex-col gap-2"
					onSubmit={(e) => {
						e.preventDefault();
						void readPanel();
					}}
				>
					<div className="grid grid-cols-2 gap-2">
						<Choice
							label="Where"
							value={spot}
							options={view.spots.map((s) => ({ value: s.value, text: s.name }))}
							onChange={setSpot}
						/>
						<Choice
							label="Read with"
							value={by}
							options={view.ways.map((w) => ({ value: w.value, text: w.name }))}
							onChange={setBy}
						/>
					</div>
					<div className="flex items-end gap-2">
						<FloorField label={`Panel, ${sign}`} value={panel} onType={setPanel} />
						<Button type="submit" className="min-h-16 px-6 text-xl">
							Read
						</Button>
					</div>
					{view.bright_metal && (
						<p>
							<b>Bright metal lies:</b> an infrared thermometer shows the hall in it. A contact probe, or a
							patch of masking tape after 2 minutes.
						</p>
					)}
				</form>
				<form
					aria-label="Read the air"
					className="mt-3 flex flex-wrap items-end gap-2 border-line border-t pt-3"
					onSubmit={(e) => {
						e.preventDefault();
						void readAir();
					}}
				>
					<FloorField label={`Air, ${sign}`} value={air} onType={setAir} />
					<FloorField label="Humidity, %" value={humidity} onType={setHumidity} />
					<Button type="submit" className="min-h-16 px-6 text-xl">
						Read
					</Button>
				</form>
				{!view.bay.open_air && (
					<form
						aria-label="In the hall"
						className="mt-3 flex flex-wrap items-end gap-2 border-line border-t pt-3"
						onSubmit={async (e) => {
							e.preventDefault();
							const h = Number(hours.replace(",", "."));
							if (hours.trim() === "" || !Number.isFinite(h)) {
								setWrong("For how many hours does it stand in the hall? Type hours, such as 24.");
								return;
							}
							setWrong(null);
							if (await record.prep({ what: "came_in", hours_ago: h })) setHours("");
						}}
					>
						<FloorField label="Vehicle and film in the hall for, hours" value={hours} onType={setHours} />
						<Button type="submit" className="min-h-16 px-6">
							So long
						</Button>
						{view.came_in && <p className="w-full">In the hall since {view.came_in}.</p>}
					</form>
				)}
			</section>
			<section aria-label="Warm and dry" className="rounded bg-paper p-4">
				{view.bay.air && (
					<p>
						Air <b>{view.bay.air.says}</b>, read {view.bay.air.at}.
					</p>
				)}
				{view.warm ? (
					<>
						<p className="font-bold text-xl" data-testid="warm">
							{view.warm.says}
						</p>
						<WarmCurve warm={view.warm} unit={view.unit} />
					</>
				) : view.bay.open_air ? (
					<p>
						In the open nothing is foretold: sun and cloud change a panel within minutes. It counts as it is
						read.
					</p>
				) : (
					<p>Read the air and the panel once: then it is foretold when the panel is warm.</p>
				)}
				<ul aria-label="Panel readings" className="mt-2">
					{view.readings.map((r) => (
						<li key={r.says} className={r.counts ? "py-0.5" : "py-0.5 text-soft line-through"}>
							{r.says}
						</li>
					))}
				</ul>
				{!view.bay.open_air && (
					<p className="mt-2 text-soft">
						Two masses, the skin in minutes and the body in hours; their figures by what the panel is are
						Windrift’s own until readings sharpen them. Doors that will be opened are not foreseen.
					</p>
				)}
			</section>
		</div>
	);
}

/** A phone shows the curve at half its size: its words are twice as large there. */
const LABEL = "text-[15px] max-sm:text-[26px]";

/** The panel's way to its window: the band of eight cases in ten, its middle, the window, the dew point. */
function WarmCurve({ warm, unit }: { warm: NonNullable<View["warm"]>; unit: Schemas["Unit"] }) {
	const [W, H] = [520, 170];
	const path = warm.path.slice(0, 49);
	const [from = 18, to = 24] = warm.window;
	// The panel's own way is what is looked at: an edge of the window or a dew point that lies far off it is left out.
	const own = path.flat();
	const [coldest, warmest] = [Math.min(...own), Math.max(...own)];
	const dew = warm.dew?.slice(0, path.length) ?? [];
	const near = [from, to, ...dew].filter((c) => c > coldest - 6 && c < warmest + 6);
	const [low, high] = [Math.min(coldest, ...near) - 1, Math.max(warmest, ...near) + 1];
	const inside = (c: number) => c >= low && c <= high;
	const within = (c: number) => Math.max(low, Math.min(high, c));
	const x = (n: number) => 54 + (n / Math.max(1, path.length - 1)) * (W - 66);
	const y = (c: number) => 8 + ((high - c) / (high - low)) * (H - 44);
	const line = (k: number) => path.map((p, n) => `${n === 0 ? "M" : "L"}${x(n)} ${y(p[k] ?? 0)}`).join("");
	const band = `${line(2)}${path
		.map((p, n) => `L${x(n)} ${y(p[0] ?? 0)}`)
		.reverse()
		.join("")}Z`;
	const told = (c: number) => Math.round(unit === "millimetre" ? c : c * 1.8 + 32);
	return (
		<svg
			viewBox={`0 0 ${W} ${H}`}
			className="mt-2 block w-full"
			role="img"
			aria-label={`The panel in the next twelve hours, ${told(path[0]?.[1] ?? 0)} ${degrees(unit)} now, ${told(path.at(-1)?.[1] ?? 0)} at the end`}
		>
			<rect
				x={54}
				y={y(to)}
				width={W - 66}
				height={Math.max(0, y(from) - y(to))}
				fill="var(--color-good-soft)"
			/>
			<path d={band} fill="var(--color-tape)" fillOpacity={0.7} />
			<path d={line(1)} fill="none" stroke="var(--color-ink)" strokeWidth={3} />
			{dew.some(inside) && (
				<path
					d={dew.map((c, n) => `${n === 0 ? "M" : "L"}${x(n)} ${y(within(c))}`).join("")}
					fill="none"
					stroke="var(--color-measure)"
					strokeWidth={2}
					strokeDasharray="6 5"
				/>
			)}
			{[from, to].filter(inside).map((c) => (
				<text key={c} x={48} y={y(c) + 5} textAnchor="end" className={LABEL} fill="var(--color-ink)">
					{told(c)}
				</text>
			))}
			{dew.some(inside) && (
				<text
					x={W - 14}
					y={y(within(dew.at(-1) ?? low)) - 5}
					textAnchor="end"
					className={LABEL}
					fill="var(--color-measure)"
				>
					dew point {told(dew.at(-1) ?? 0)} {degrees(unit)}
				</text>
			)}
			{[0, 3, 6, 9, 12].map((h) => (
				<text
					key={h}
					x={x(Math.min(h * 4, path.length - 1))}
					y={H - 6}
					textAnchor={h === 12 ? "end" : h === 0 ? "start" : "middle"}
					className={LABEL}
					fill="var(--color-ink)"
				>
					{h === 0 ? "now" : `+${h} h`}
				</text>
			))}
		</svg>
	);
}
