import { type PointerEvent, useRef, useState } from "react";
import { type Schemas, told } from "../../api/client";
import { usePhoto } from "../../job/usePhoto";
import { Button, TroubleNote } from "../../ui/parts";

type Known = { across: number; down: number; back: string; drop: string };

/** Where the fifth point begins: in the middle, not measured. */
const MIDDLE: Known = { across: 0.5, down: 0.5, back: "", drop: "" };

const CORNERS = ["Upper front", "Upper rear", "Lower rear", "Lower front", "Fifth"] as const;

/** A photo under the picture, squared up from four known points, with a fifth that says how far off it is: to trace, and to check against. */
export function PhotoUnder({
	job,
	side,
	onSave,
}: {
	job: string;
	side: Schemas["SideView"];
	onSave: (spec: unknown) => Promise<unknown>;
}) {
	const kept = side.spec.photo;
	const keepPhoto = usePhoto(job, true);
	const [photo, setPhoto] = useState<string | null>(kept?.photo ?? null);
	const [points, setPoints] = useState<Known[]>(() => {
		if (kept) {
			const known = (p: { across: number; down: number }, at: string) => ({
				across: p.across,
				down: p.down,
				back: side.printed[`/photo/${at}/back_mm`] ?? "",
				drop: side.printed[`/photo/${at}/drop_mm`] ?? "",
			});
			const four = kept.points.map((p, n) => known(p, `points/${n}`));
			return [...four, kept.fifth ? known(kept.fifth, "fifth") : MIDDLE];
		}
		const [length, height] = [side.size[0] ?? "", side.size[1] ?? ""];
		// The corners of the side are the first guess: often they are the four points.
		const left = side.drawing.front !== "right";
		const [near, far] = left ? [0.1, 0.9] : [0.9, 0.1];
		return [
			{ across: near, down: 0.2, back: "0", drop: "0" },
			{ across: far, down: 0.2, back: length, drop: "0" },
			{ across: far, down: 0.8, back: length, drop: height },
			{ across: near, down: 0.8, back: "0", drop: height },
			MIDDLE,
		];
	});
	const [wrong, setWrong] = useState<string | null>(null);
	const [busy, setBusy] = useState(false);
	const tell = async (work: () => Promise<unknown>) => {
		setBusy(true);
		try {
			await work();
			setWrong(null);
		} catch (error) {
			setWrong(told(error));
		} finally {
			setBusy(false);
		}
	};
	const set = (n: number, part: Partial<Known>) =>
		setPoints((all) => all.map((p, i) => (i === n ? { ...p, ...part } : p)));
	const square = () =>
		tell(() => {
			const sent = points.map((p) => ({
				across: p.across,
				down: p.down,
				back_mm: p.back,
				drop_mm: p.drop,
			}));
			const [fifth] = sent.slice(4);
			const measured = fifth && (fifth.back_mm.trim() !== "" || fifth.drop_mm.trim() !== "");
			return onSave({
				...side.spec,
				photo: { photo, points: sent.slice(0, 4), fifth: measured ? fifth : null },
			});
		});
	return (
		<div className="grid items-start gap-4 @4xl:grid-cols-[1fr_24rem]">
			{photo ? (
				<Points photo={photo} points={points} onMove={(n, across, down) => set(n, { across, down })} />
			) : (
				<p className="rounded bg-paper p-4 text-lg">
					Stand square before the middle of the side, as far back as the yard allows, and photograph all of
					it. Then show four points whose places you have measured: they square the photo up.
				</p>
			)}
			<section aria-label="Four known points" className="flex flex-col gap-3 rounded bg-paper p-4">
				<label className="flex min-h-11 cursor-pointer items-center rounded border border-soft px-4 focus-within:outline-3 focus-within:outline-measure">
					{photo ? "Another photo" : "Choose a photo"}
					<input
						type="file"
						accept="image/jpeg,image/png,image/webp"
						className="sr-only"
						onChange={(e) => {
							const file = e.target.files?.[0];
							if (file) tell(async () => setPhoto(await keepPhoto(file)));
							e.target.value = "";
						}}
					/>
				</label>
				{photo && (
					<>
						{points.map((p, n) => (
							<fieldset key={CORNERS[n]} className="grid grid-cols-[2rem_1fr_1fr] items-end gap-2">
								<legend className={n === 4 ? "col-span-3 mb-1" : "sr-only"}>
									{n === 4
										? "A fifth point, well inside, to see how far off the photo is"
										: `${CORNERS[n]} point`}
								</legend>
								<strong className="pb-2 text-center text-xl">{n + 1}</strong>
								{(["back", "drop"] as const).map((key) => (
									<div key={key} className="flex min-w-0 flex-col gap-1">
										<label htmlFor={`point-${n}-${key}`} className="text-soft">
											{key === "back" ? "Back" : "Down"}
										</label>
										<input
											id={`point-${n}-${key}`}
											value={p[key]}
											onChange={(e) => set(n, { [key]: e.target.value })}
											className="h-11 min-w-0 rounded border border-soft bg-paper px-3 font-bold font-reading text-lg"
										/>
									</div>
								))}
							</fieldset>
						))}
						<Button look="next" disabled={busy} onClick={square}>
							Square it up
						</Button>
						{kept && (
							<Button onClick={() => tell(() => onSave({ ...side.spec, photo: null }))}>Take it away</Button>
						)}
						{side.underlay?.off &&
							(side.underlay.off.good ? (
								<p role="status">✓ {side.underlay.off.sentence}</p>
							) : (
								<TroubleNote>{side.underlay.off.sentence}</TroubleNote>
							))}
						<p className="text-soft">
							True in the plane of the side only: what stands before it or behind it is not where it seems.
						</p>
					</>
				)}
				{busy && <p role="status">Working on the photo…</p>}
				{wrong && <TroubleNote>{wrong}</TroubleNote>}
			</section>
		</div>
	);
}

/** The middle of the magnifier, left open. */
const CROSS = "M1 .7v.25M1 1.05v.25M.7 1h.25M1.05 1h.25";
/** Width of the magnifier, px, and how many times it magnifies. */
const LENS = 168;
const TIMES = 4;

/** The photo with handles that are put on the known points; what is under the finger is shown magnified beside it. */
function Points({
	photo,
	points,
	onMove,
}: {
	photo: string;
	points: Known[];
	onMove: (n: number, across: number, down: number) => void;
}) {
	const box = useRef<HTMLDivElement>(null);
	const [held, setHeld] = useState<number | null>(null);
	const shown = held === null ? undefined : points[held];
	const place = (n: number, e: PointerEvent) => {
		const r = box.current?.getBoundingClientRect();
		if (!r || e.buttons === 0) return;
		const share = (v: number) => Math.round(Math.min(1, Math.max(0, v)) * 10000) / 10000;
		onMove(n, share((e.clientX - r.left) / r.width), share((e.clientY - r.top) / r.height));
	};
	return (
		<div ref={box} className="relative touch-none select-none">
			<img
				src={`/api/photos/${photo}`}
				alt="The side, photographed"
				className="block w-full rounded"
				draggable={false}
			/>
			<svg
				className="pointer-events-none absolute inset-0 h-full w-full"
				viewBox="0 0 1 1"
				preserveAspectRatio="none"
				aria-hidden
			>
				<polygon
					points={points
						.slice(0, 4)
						.map((p) => `${p.across},${p.down}`)
						.join(" ")}
					fill="none"
					stroke="var(--color-measure)"
					strokeWidth={3}
					vectorEffect="non-scaling-stroke"
				/>
			</svg>
			{points.map((p, n) => (
				<button
					key={CORNERS[n]}
					type="button"
					aria-label={`${CORNERS[n]} point; arrow keys move it`}
					className="absolute h-11 w-11 -translate-x-1/2 -translate-y-1/2 rounded-full border-4 border-white bg-measure/60 font-bold text-white"
					style={{ left: `${p.across * 100}%`, top: `${p.down * 100}%` }}
					onPointerDown={(e) => {
						e.currentTarget.setPointerCapture(e.pointerId);
						setHeld(n);
					}}
					onPointerMove={(e) => place(n, e)}
					onPointerUp={() => setHeld(null)}
					onPointerCancel={() => setHeld(null)}
					onFocus={(e) => e.currentTarget.matches(":focus-visible") && setHeld(n)}
					onBlur={() => setHeld(null)}
					onKeyDown={(e) => {
						const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[
							e.key
						];
						if (!way) return;
						e.preventDefault();
						onMove(n, p.across + (way[0] ?? 0) * 0.001, p.down + (way[1] ?? 0) * 0.001);
					}}
				>
					{n + 1}
				</button>
			))}
			{shown && <Lens photo={photo} at={shown} box={box.current} />}
		</div>
	);
}

/** What lies under a handle, magnified, in the corner that is farther from it. */
function Lens({ photo, at, box }: { photo: string; at: Known; box: HTMLDivElement | null }) {
	if (!box) return null;
	const { width, height } = box.getBoundingClientRect();
	const [x, y] = [at.across * width * TIMES - LENS / 2, at.down * height * TIMES - LENS / 2];
	return (
		<div
			data-testid="lens"
			aria-hidden
			className="pointer-events-none absolute top-2 rounded-full border-4 border-paper bg-outside shadow-lg"
			style={{
				width: LENS,
				height: LENS,
				[at.across < 0.5 ? "right" : "left"]: 8,
				backgroundImage: `url(/api/photos/${photo})`,
				backgroundRepeat: "no-repeat",
				backgroundSize: `${width * TIMES}px ${height * TIMES}px`,
				backgroundPosition: `${-x}px ${-y}px`,
			}}
		>
			<svg viewBox="0 0 2 2" className="h-full w-full">
				<path d={CROSS} stroke="var(--color-paper)" strokeWidth={0.08} />
				<path d={CROSS} stroke="var(--color-trouble)" strokeWidth={0.03} />
			</svg>
		</div>
	);
}
