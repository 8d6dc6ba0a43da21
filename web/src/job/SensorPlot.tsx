import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type PointerEvent, useEffect, useRef, useState } from "react";
import { ask, client, type Schemas } from "../api/client";
import { useSettings } from "../api/settings";
import { useWidth } from "../drawing/frame";
import { Button, Waiting } from "../ui/parts";
import { columns } from "./columns";

type Reading = Schemas["BayReading"];
/** A reading, and when, ms. */
type Read = Reading & { ms: number };

const HEIGHT = 220;
const HOUR = 3_600_000;
/** Spans that can be looked at, hours. */
const SPANS = [1, 6, 24, 72, 168];

const readings = (device: string, hours: number): Promise<Read[]> =>
	ask(client.GET("/api/devices/{id}/readings", { params: { path: { id: device }, query: { hours } } })).then(
		(all) => all.map((r: Reading) => ({ ...r, ms: Date.parse(r.at) })),
	);

/** What a sensor read in a week: drawn on a canvas, each column of pixels from its lowest to its highest, so that sixty thousand readings pan smoothly. */
export function SensorPlot({ device }: { device: string }) {
	const [ref, width] = useWidth();
	const canvas = useRef<HTMLCanvasElement>(null);
	const [hours, setHours] = useState(24);
	// How far back its right edge stands, ms.
	const [back, setBack] = useState(0);
	const drag = useRef<{ x: number; back: number } | null>(null);
	const cache = useQueryClient();
	const key = ["readings", device];
	// The whole week once; from then on what came since: sixty thousand readings are not fetched anew while somebody pans.
	const found = useQuery({
		queryKey: key,
		queryFn: () => readings(device, 168),
		staleTime: Number.POSITIVE_INFINITY,
	});
	useQuery({
		queryKey: ["newest readings", device],
		enabled: found.data !== undefined,
		queryFn: async () => {
			const newest = await readings(device, 1);
			const before = cache.getQueryData<Read[]>(key) ?? [];
			const last = before.at(-1)?.ms ?? 0;
			// A page that slept for longer has missed some; a sensor that is silent has not.
			if (newest.length > 0 && last < Date.now() - HOUR)
				void cache.invalidateQueries({ queryKey: key, exact: true });
			const more = newest.filter((r) => r.ms > last);
			if (more.length > 0) cache.setQueryData(key, [...before, ...more]);
			return newest.length;
		},
		refetchInterval: 15_000,
	});
	const { settings } = useSettings();
	const zone = settings?.zone ?? "UTC";
	const all = found.data;
	useEffect(() => {
		const to = canvas.current;
		const brush = to?.getContext("2d");
		if (!to || !brush || !all || width === 0) return;
		const sharp = devicePixelRatio || 1;
		to.width = width * sharp;
		to.height = HEIGHT * sharp;
		brush.setTransform(sharp, 0, 0, sharp, 0, 0);
		brush.clearRect(0, 0, width, HEIGHT);
		const colour = (name: string) => getComputedStyle(to).getPropertyValue(`--color-${name}`);
		const end = Date.now() - back;
		const start = end - hours * HOUR;
		const left = 44;
		const inner = width - left - 8;
		const parts: { of: (r: Reading) => number | null | undefined; name: string; colour: string }[] = [
			{ of: (r) => r.celsius, name: "air", colour: colour("measure") },
			{ of: (r) => r.surface, name: "panel", colour: colour("trouble") },
		];
		const drawn = parts.map((p) => ({ ...p, columns: columns(all, p.of, start, end, inner) }));
		const values = drawn.flatMap((d) => d.columns.flatMap((c) => (c ? [c.low, c.high] : [])));
		brush.font = "15px Overpass Variable, sans-serif";
		brush.fillStyle = colour("ink");
		if (values.length === 0) {
			brush.fillText("Nothing was read in this time.", left, HEIGHT / 2);
			return;
		}
		const [low, high] = [Math.min(...values) - 0.5, Math.max(...values) + 0.5];
		const y = (c: number) => 22 + ((high - c) / (high - low)) * (HEIGHT - 50);
		for (const c of [low + 0.5, (low + high) / 2, high - 0.5]) {
			brush.fillText(`${c.toFixed(0)} °C`, 2, y(c) + 5);
			brush.fillStyle = colour("line");
			brush.fillRect(left, y(c), inner, 1);
			brush.fillStyle = colour("ink");
		}
		drawn.forEach((d, n) => {
			brush.fillStyle = d.colour;
			brush.fillText(`${n === 0 ? "━" : "┅"} ${d.name}`, left + 6 + n * 90, 15);
			d.columns.forEach((c, x) => {
				// The panel is dotted, so that the two are told apart without their colours.
				if (c && (n === 0 || x % 4 < 2))
					brush.fillRect(left + x, y(c.high) - 1, 1, Math.max(2, y(c.low) - y(c.high) + 2));
			});
		});
		brush.fillStyle = colour("ink");
		const when = (ms: number) =>
			new Intl.DateTimeFormat("en-GB", {
				timeZone: zone,
				...(hours > 24 ? { day: "numeric", month: "short" } : {}),
				hour: "2-digit",
				minute: "2-digit",
			}).format(ms);
		brush.fillText(when(start), left, HEIGHT - 6);
		const last = when(end);
		brush.fillText(last, width - brush.measureText(last).width - 4, HEIGHT - 6);
	}, [all, width, hours, back, zone]);
	const pan = (e: PointerEvent) => {
		if (!drag.current) return;
		const per = (hours * HOUR) / Math.max(1, width - 52);
		setBack(Math.min(167 * HOUR, Math.max(0, drag.current.back + (e.clientX - drag.current.x) * per)));
	};
	return (
		<div ref={ref} className="mt-2">
			{!all && <Waiting what="the readings" error={found.error} />}
			<canvas
				ref={canvas}
				style={{ width, height: HEIGHT, touchAction: "pan-y", cursor: "grab" }}
				role="img"
				aria-label={`Air and panel over ${hours} hours, ${all?.length ?? 0} readings. Drag to go back.`}
				onPointerDown={(e) => {
					drag.current = { x: e.clientX, back };
					e.currentTarget.setPointerCapture(e.pointerId);
				}}
				onPointerMove={pan}
				onPointerUp={() => {
					drag.current = null;
				}}
			/>
			<div className="flex flex-wrap gap-2">
				{SPANS.map((h) => (
					<Button
						key={h}
						className="min-h-14"
						aria-pressed={h === hours}
						onClick={() => setHours(h)}
						look={h === hours ? "next" : "plain"}
					>
						{h < 24 ? `${h} h` : h === 168 ? "a week" : `${h / 24} d`}
					</Button>
				))}
				<Button
					className="min-h-14"
					onClick={() => setBack((b) => Math.min(167 * HOUR, b + (hours * HOUR) / 2))}
				>
					Earlier
				</Button>
				<Button className="min-h-14" onClick={() => setBack((b) => Math.max(0, b - (hours * HOUR) / 2))}>
					Later
				</Button>
			</div>
		</div>
	);
}
