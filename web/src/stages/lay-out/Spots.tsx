import { useCallback, useEffect, useRef, useState } from "react";
import { ask, client, type Schemas, told } from "../../api/client";
import type { Editing } from "../../api/queries";
import { LengthField } from "../../readings/LengthField";
import { Button, TroubleNote } from "../../ui/parts";
import { ShopFigures } from "./ShopFigures";

type View = Schemas["SpotsView"];
type Spot = Schemas["Spot"];
export type Preview = { ids: string[]; right: number; down: number };

const MAP = 236;
const ARROWS: Record<string, [number, number]> = {
	ArrowLeft: [-1, 0],
	ArrowRight: [1, 0],
	ArrowUp: [0, -1],
	ArrowDown: [0, 1],
};

/** The better spot: the three best of the window, what each gains and costs, and a map of the window to be touched. */
export function Spots({
	side,
	piece,
	editing,
	moving,
	onPreview,
}: {
	side: Schemas["SideView"];
	piece: Schemas["PieceView"];
	editing: Editing;
	/** Where the piece is dragged just now, mm. */
	moving: { right: number; down: number } | undefined;
	onPreview: (preview: Preview | null) => void;
}) {
	const metric = side.unit === "millimetre";
	const [reach, setReach] = useState({ along: metric ? "76 mm" : "3", down: metric ? "76 mm" : "3" });
	const [locked, setLocked] = useState({ along: false, down: false });
	const [together, setTogether] = useState(false);
	const [view, setView] = useState<View | null>(null);
	const [wrong, setWrong] = useState<string | null>(null);
	const [shown, setShown] = useState<Spot | null>(null);
	const [moved, setMoved] = useState(false);
	const group = piece.spec.group;
	const mates = side.pieces.filter((p) => p.id === piece.id || together || (group && p.spec.group === group));
	const ids = mates.map((p) => p.id);
	// Everything that is asked for, as one word: a piece that was changed is looked at anew.
	const asked = JSON.stringify({
		pieces: ids,
		window: { along_mm: locked.along ? 0 : reach.along, down_mm: locked.down ? 0 : reach.down },
		seen: mates.map((p) => p.revision).concat(side.revision),
	});

	const search = useCallback(
		async (touched?: [number, number]) => {
			const { pieces, window } = JSON.parse(asked) as Schemas["Search"];
			const answer = await ask(
				client.POST("/api/sides/{id}/spots", {
					params: { path: { id: side.id } },
					body: { pieces, window, touched },
				}),
			);
			setWrong(null);
			return answer;
		},
		[asked, side.id],
	);

	useEffect(() => {
		let current = true;
		setShown(null);
		onPreview(null);
		search()
			.then((answer) => current && setView(answer))
			.catch((error) => current && setWrong(told(error)));
		return () => {
			current = false;
		};
	}, [search, onPreview]);
	useEffect(() => () => onPreview(null), [onPreview]);

	const show = (spot: Spot) => {
		setShown(spot);
		onPreview({ ids, right: spot.right_mm, down: spot.down_mm });
	};
	const touch = async (column: number, row: number) => {
		try {
			const answer = await search([column, row]);
			if (answer.touched) show(answer.touched);
		} catch (error) {
			setWrong(told(error));
		}
	};
	const go = async (spot: Spot) => {
		try {
			await editing.movePieces(
				side.id,
				mates.map((p) => ({ id: p.id, revision: p.revision })),
				spot,
			);
			setMoved(true);
			setWrong(null);
		} catch (error) {
			setWrong(told(error));
		}
	};
	const touchedOne = shown && view && ![view.wanted, ...view.best].includes(shown) ? shown : null;
	return (
		<div className="grid gap-4 @3xl:grid-cols-[auto_1fr]">
			<div className="flex flex-col gap-2">
				{view && <WindowMap view={view} shown={shown} moving={moving} onTouch={touch} />}
				<p className="max-w-60 text-soft">
					Paler is better. Crossed: film would lie on something that it must keep off. Touch a place to try
					it.
				</p>
			</div>
			<div className="flex flex-col gap-3">
				<p className="font-bold text-lg" role="status">
					{view ? view.sentence : wrong ? "" : "Looking at every spot…"}
				</p>
				{wrong && <TroubleNote>{wrong}</TroubleNote>}
				<ol className="grid gap-2 @4xl:grid-cols-2">
					{view &&
						[
							{ name: "Wanted spot", spot: view.wanted },
							...view.best.map((spot, n) => ({ name: `Spot ${n + 1}`, spot })),
							...(touchedOne ? [{ name: "Touched spot", spot: touchedOne }] : []),
						].map(({ name, spot }) => (
							<SpotCard
								key={name}
								name={name}
								spot={spot}
								shown={shown === spot}
								onShow={() => show(spot)}
								onGo={name === "Wanted spot" ? undefined : () => go(spot)}
							/>
						))}
				</ol>
				{moved && (
					<p role="status">
						Moved. <Button onClick={() => editing.undo().then(() => setMoved(false))}>Move it back</Button>
					</p>
				)}
				<div className="grid gap-3 @lg:grid-cols-2 @4xl:grid-cols-4">
					<Reach
						label="Look forward and back by"
						text={reach.along}
						onText={(along) => setReach({ ...reach, along })}
					/>
					<Reach
						label="Look up and down by"
						text={reach.down}
						onText={(down) => setReach({ ...reach, down })}
					/>
					<Lock
						label="Keep its distance along"
						on={locked.along}
						onChange={(along) => setLocked({ ...locked, along })}
					/>
					<Lock
						label="Keep its height"
						on={locked.down}
						onChange={(down) => setLocked({ ...locked, down })}
					/>
					{side.pieces.length > 1 && (
						<Lock label="Every piece of this side moves with it" on={together} onChange={setTogether} />
					)}
					<div className="self-end">
						<ShopFigures />
					</div>
				</div>
			</div>
		</div>
	);
}

function Reach({ label, text, onText }: { label: string; text: string; onText: (text: string) => void }) {
	return <LengthField label={label} printed={text} onCommit={async (typed) => onText(typed)} />;
}

function Lock({ label, on, onChange }: { label: string; on: boolean; onChange: (on: boolean) => void }) {
	return (
		<label className="flex min-h-11 items-center gap-3 self-end">
			<input
				type="checkbox"
				checked={on}
				onChange={(e) => onChange(e.target.checked)}
				className="h-6 w-6 accent-spruce"
			/>
			{label}
		</label>
	);
}

function SpotCard({
	name,
	spot,
	shown,
	onShow,
	onGo,
}: {
	name: string;
	spot: Spot;
	shown: boolean;
	onShow: () => void;
	onGo: (() => void) | undefined;
}) {
	return (
		<li
			aria-label={name}
			className={`rounded bg-paper p-3 ${shown ? "outline outline-4 outline-measure" : "border border-soft"}`}
		>
			<p>
				<strong>{name}</strong>: <span className="font-reading font-bold text-xl">{spot.moved}</span>
			</p>
			<p className={spot.counts.hard > 0 ? "font-bold text-trouble" : ""}>{spot.meets}</p>
			{spot.gains.length > 0 && <p>Gains: {spot.gains.join("; ")}.</p>}
			{spot.spare_said && <p>{spot.spare_said}</p>}
			{spot.costs.length > 0 && <p>Costs: {spot.costs.join("; ")}.</p>}
			<p className="mt-2 flex gap-2">
				<Button onClick={onShow} aria-pressed={shown}>
					Show it
				</Button>
				{onGo && (
					<Button onClick={onGo} aria-label={`Move there: ${name}`}>
						Move there
					</Button>
				)}
			</p>
		</li>
	);
}

/** Every spot of the window, painted once; touched with a finger, a mouse or the arrow keys. */
function WindowMap({
	view,
	shown,
	moving,
	onTouch,
}: {
	view: View;
	shown: Spot | null;
	moving: { right: number; down: number } | undefined;
	onTouch: (column: number, row: number) => void;
}) {
	const canvas = useRef<HTMLCanvasElement>(null);
	const { columns, rows, step_mm: step } = view;
	const cell = MAP / Math.max(columns, rows);
	const [width, height] = [cell * columns, cell * rows];
	useEffect(() => paint(canvas.current, view), [view]);
	const at = (right: number, down: number) =>
		[(right / step + (columns - 1) / 2 + 0.5) * cell, (down / step + (rows - 1) / 2 + 0.5) * cell] as const;
	const dot = (spot: { right_mm: number; down_mm: number }, text: string, strong: boolean) => {
		const [x, y] = at(spot.right_mm, spot.down_mm);
		return (
			<g key={text}>
				<circle
					cx={x}
					cy={y}
					r={11}
					fill={strong ? "var(--color-measure)" : "var(--color-paper)"}
					stroke="var(--color-measure)"
					strokeWidth={2.5}
				/>
				<text
					x={x}
					y={y + 5}
					textAnchor="middle"
					fontSize={14}
					fontWeight={700}
					fill={strong ? "var(--color-on-dark)" : "var(--color-measure)"}
				>
					{text}
				</text>
			</g>
		);
	};
	const [cx, cy] = at(moving?.right ?? shown?.right_mm ?? 0, moving?.down ?? shown?.down_mm ?? 0);
	const column = Math.round((shown?.right_mm ?? 0) / step + (columns - 1) / 2);
	const row = Math.round((shown?.down_mm ?? 0) / step + (rows - 1) / 2);
	const try_ = (c: number, r: number) => {
		if (c >= 0 && c < columns && r >= 0 && r < rows) onTouch(c, r);
	};
	return (
		<button
			type="button"
			data-testid="window-map"
			aria-label={`Map of the window, ${columns} by ${rows} spots. Arrow keys try the next one.`}
			className="relative block cursor-crosshair touch-none"
			style={{ width, height }}
			onPointerDown={(e) => {
				const box = e.currentTarget.getBoundingClientRect();
				try_(
					Math.floor(((e.clientX - box.left) / box.width) * columns),
					Math.floor(((e.clientY - box.top) / box.height) * rows),
				);
			}}
			onKeyDown={(e) => {
				const [x, y] = ARROWS[e.key] ?? [0, 0];
				if (x !== 0 || y !== 0) {
					e.preventDefault();
					try_(column + x, row + y);
				}
			}}
		>
			<canvas ref={canvas} className="absolute inset-0 rounded" style={{ width, height }} />
			<svg
				width={width}
				height={height}
				className="pointer-events-none absolute inset-0 overflow-visible"
				aria-hidden
			>
				<path
					d={`M${cx} 0V${height}M0 ${cy}H${width}`}
					stroke="var(--color-measure)"
					strokeWidth={1.5}
					strokeDasharray="5 4"
					pointerEvents="none"
				/>
				<g pointerEvents="none">
					{(() => {
						const [x, y] = at(0, 0);
						return (
							<rect
								x={x - 7}
								y={y - 7}
								width={14}
								height={14}
								fill="none"
								stroke="var(--color-ink)"
								strokeWidth={3}
							/>
						);
					})()}
					{view.best.map((spot, n) => dot(spot, String(n + 1), shown === spot))}
				</g>
			</svg>
		</button>
	);
}

/** Paper where nothing is met, darker the more points; crossed where something hard is met, so that it is told without colour. */
function paint(canvas: HTMLCanvasElement | null, view: View) {
	const context = canvas?.getContext("2d");
	if (!canvas || !context) return;
	const { columns, rows, points } = view;
	const size = Math.max(2, Math.floor((2 * MAP) / Math.max(columns, rows)));
	canvas.width = columns * size;
	canvas.height = rows * size;
	const most = Math.max(1, ...points);
	const least = Math.min(...points.filter((p) => p >= 0), most);
	for (let row = 0; row < rows; row++) {
		for (let column = 0; column < columns; column++) {
			const value = points[row * columns + column] ?? 0;
			if (value < 0) {
				const crossed = (column + row) % 6 === 0 || (column - row + 6 * columns) % 6 === 0;
				context.fillStyle = crossed ? "var(--color-trouble)" : "var(--color-trouble-line)";
			} else {
				const share = most > least ? (value - least) / (most - least) : 0;
				const tone = Math.round(253 - 150 * Math.sqrt(share));
				context.fillStyle = `rgb(${tone}, ${tone - 2}, ${tone - 12})`;
			}
			context.fillRect(column * size, row * size, size, size);
		}
	}
}
