import { type PointerEvent, type ReactNode, useCallback, useEffect, useRef, useState } from "react";
import { ask, client, type Schemas, told } from "../../api/client";
import { Closeup } from "../../drawing/Closeup";
import { type Frame, mm, type Point, px } from "../../drawing/frame";
import { FloorPane } from "../../job/Floor";
import { NextMove, TroubleNote } from "../../ui/parts";
import { ShutIn } from "./StrokePicture";

type Swath = Schemas["Swath"];
type Tried = Schemas["Tried"];

const KEY = "min-h-16 rounded border border-soft bg-paper px-5 text-xl disabled:opacity-55";
/** Batches go to the server no oftener than this, ms. */
const EVERY = 100;
/** Points nearer than this to the one before are left out, px. */
const NEAR = 6;
/** Widths of squeegee to choose from: inches, as they are sold, and mm. */
const WIDTHS = [
	[2, 50.8],
	[4, 101.6],
	[6, 152.4],
] as const;

/** Press in your own order: trapped air shows where it would be and why; beside it the proven order. */
export function TryIt({
	side,
	piece,
	section,
	view,
	part,
	picker,
}: {
	side: Schemas["SideView"];
	piece: Schemas["PieceView"];
	section: number;
	view: Schemas["LayDownView"];
	part: Schemas["SectionStrokes"];
	picker: ReactNode;
}) {
	const [strokes, setStrokes] = useState<Swath[]>([]);
	const [drawing, setDrawing] = useState<Point[] | null>(null);
	const [width, setWidth] = useState<number>(101.6);
	const [tried, setTried] = useState<Tried | null>(null);
	const [wrong, setWrong] = useState<string | null>(null);
	const [heated, setHeated] = useState(false);
	const [proven, setProven] = useState(false);
	const asked = useRef<Swath[] | null>(null);
	const busy = useRef(false);
	const newest = useRef<Swath[]>(strokes);
	newest.current = strokes;

	// One batch under way at a time, the newest strokes win.
	const judge = useCallback(async () => {
		if (busy.current) return;
		busy.current = true;
		try {
			while (asked.current !== newest.current && newest.current.length > 0) {
				const all = newest.current;
				const body = { section, strokes: all };
				const answer = await ask(
					client.POST("/api/pieces/{id}/press", { params: { path: { id: piece.id } }, body }),
				);
				asked.current = all;
				// Begun again meanwhile: what is answered is no longer there.
				if (newest.current.length > 0) setTried(answer);
				setWrong(null);
				await new Promise((done) => setTimeout(done, EVERY));
			}
		} catch (error) {
			setWrong(told(error));
		} finally {
			busy.current = false;
		}
	}, [piece.id, section]);
	useEffect(() => {
		if (strokes.length === 0) {
			setTried(null);
		} else judge();
	}, [strokes, judge]);

	const solid = view.film.adhesive === "solid";
	const sets = heated || solid;
	const pointer = (frame: Frame) => {
		const at = (event: PointerEvent<SVGSVGElement>): Point => {
			const box = event.currentTarget.getBoundingClientRect();
			return [event.clientX - box.left, event.clientY - box.top];
		};
		const end = () => {
			if (drawing && drawing.length > 1) {
				setStrokes((before) => [
					...before,
					{ path: drawing.map((p) => mm(frame, p) as unknown as number[]) as Swath["path"], width_mm: width },
				]);
			}
			setDrawing(null);
		};
		return {
			onPointerDown: (event: PointerEvent<SVGSVGElement>) => {
				event.currentTarget.setPointerCapture(event.pointerId);
				setDrawing([at(event)]);
			},
			onPointerMove: (event: PointerEvent<SVGSVGElement>) => {
				if (!drawing) return;
				const here = at(event);
				const last = drawing.at(-1);
				if (last && Math.hypot(here[0] - last[0], here[1] - last[1]) >= NEAR) setDrawing([...drawing, here]);
			},
			onPointerUp: end,
			onPointerCancel: () => setDrawing(null),
		};
	};
	const path = (points: readonly (readonly number[])[]) => points.map((p) => p.join(",")).join(" ");
	const first = tried?.shut_in.find((a) => a.stroke > 0);
	const share = Math.round((tried?.pressed ?? 0) * 100);
	return (
		<>
			<FloorPane>
				{picker}
				<Closeup
					side={side}
					pieces={[piece]}
					points={part.corners}
					maxHeight={320}
					film={0.5}
					label={`${part.called}: press here with a finger or the mouse`}
					pointer={pointer}
				>
					{(frame) => (
						<g pointerEvents="none">
							<polygon
								points={path(part.corners.map((p) => px(frame, p)))}
								fill="none"
								stroke="var(--color-ink)"
								strokeWidth={2}
								strokeDasharray="8 5"
							/>
							{strokes.map((s, n) => (
								<polyline
									key={n}
									points={path(s.path.map((p) => px(frame, p)))}
									fill="none"
									stroke="var(--color-spruce)"
									strokeOpacity={0.3}
									strokeWidth={s.width_mm * frame.scale}
									strokeLinecap="round"
									strokeLinejoin="round"
								/>
							))}
							{proven &&
								part.strokes.map((s) => {
									const start = px(frame, s.path[0]);
									return (
										<g key={s.number}>
											<polyline
												points={path(s.path.map((p) => px(frame, p)))}
												fill="none"
												stroke="var(--color-ink)"
												strokeWidth={2}
												strokeDasharray="3 5"
											/>
											<circle
												cx={start[0]}
												cy={start[1]}
												r={11}
												fill="var(--color-paper)"
												stroke="var(--color-ink)"
											/>
											<text x={start[0]} y={start[1] + 5} textAnchor="middle" fontSize={13} fontWeight={700}>
												{s.number}
											</text>
										</g>
									);
								})}
							{drawing && (
								<polyline
									points={path(drawing)}
									fill="none"
									stroke="var(--color-measure)"
									strokeOpacity={0.4}
									strokeWidth={width * frame.scale}
									strokeLinecap="round"
									strokeLinejoin="round"
								/>
							)}
							{tried?.shut_in.map((air) => (
								<ShutIn key={`${air.stroke} ${air.corners.join()}`} frame={frame} air={air} />
							))}
						</g>
					)}
				</Closeup>
				<div className="flex flex-wrap items-center gap-3">
					<button
						type="button"
						className={KEY}
						disabled={strokes.length === 0 || (sets && strokes.length > 1)}
						onClick={() => setStrokes(strokes.slice(0, -1))}
					>
						Lift the last stroke
					</button>
					<button
						type="button"
						className={KEY}
						disabled={strokes.length === 0}
						onClick={() => setStrokes([])}
					>
						Begin again
					</button>
					<div role="radiogroup" aria-label="Squeegee" className="flex gap-2">
						{WIDTHS.map(([inches, value]) => (
							<button
								key={inches}
								type="button"
								role="radio"
								aria-checked={width === value}
								onClick={() => setWidth(value)}
								className={`min-h-16 rounded px-4 text-xl ${width === value ? "bg-bar font-bold text-white" : "border border-soft bg-paper"}`}
							>
								{side.unit === "millimetre" ? `${Math.round(value)} mm` : `${inches} in`}
							</button>
						))}
					</div>
					<button type="button" className={KEY} aria-pressed={proven} onClick={() => setProven(!proven)}>
						{proven ? "Hide the proven order" : "Show the proven order"}
					</button>
					{!solid && (
						<label className="flex min-h-16 items-center gap-3 rounded bg-paper px-4">
							<input
								type="checkbox"
								className="size-8"
								checked={heated}
								onChange={(e) => setHeated(e.target.checked)}
							/>
							It has been heated
						</label>
					)}
				</div>
				{sets && strokes.length > 1 && (
					<p>
						{solid
							? "After the first stroke this adhesive does not lift again."
							: "Heated film does not lift again."}
					</p>
				)}
				{tried?.shut_in.map((air) => (
					<TroubleNote key={`${air.stroke} ${air.corners.join()}`}>{air.sentence}</TroubleNote>
				))}
				{wrong && <TroubleNote>{wrong}</TroubleNote>}
			</FloorPane>
			<NextMove
				sentence={tried?.sentence ?? "Press with a finger, from the hinge outward."}
				detail={
					first
						? first.sentence
						: tried
							? `${strokes.length} ${strokes.length === 1 ? "stroke" : "strokes"} of yours, ${share} % down; the proven order has ${part.strokes.length}.`
							: `The proven order has ${part.strokes.length} strokes.`
				}
				alarm={first !== undefined}
			/>
		</>
	);
}
