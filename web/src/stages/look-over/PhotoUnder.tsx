import { type PointerEvent, useRef, useState } from "react";
import { type Schemas, told } from "../../api/client";
import { Button, TroubleNote } from "../../ui/parts";
import { usePhoto } from "./WalkRound";

type Known = { across: number; down: number; back: string; drop: string };

const CORNERS = ["Upper front", "Upper rear", "Lower rear", "Lower front"] as const;

/** A photo under the picture, squared up from four known points: to trace, and to check against. */
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
	const keepPhoto = usePhoto(job);
	const [photo, setPhoto] = useState<string | null>(kept?.photo ?? null);
	const [points, setPoints] = useState<Known[]>(() => {
		if (kept) {
			return kept.points.map((p, n) => ({
				across: p.across,
				down: p.down,
				back: side.printed[`/photo/points/${n}/back_mm`] ?? "",
				drop: side.printed[`/photo/points/${n}/drop_mm`] ?? "",
			}));
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
		tell(() =>
			onSave({
				...side.spec,
				photo: {
					photo,
					points: points.map((p) => ({ across: p.across, down: p.down, back_mm: p.back, drop_mm: p.drop })),
				},
			}),
		);
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
								<legend className="sr-only">{CORNERS[n]} point</legend>
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

/** The photo with four handles that are put on the known points. */
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
					points={points.map((p) => `${p.across},${p.down}`).join(" ")}
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
					onPointerDown={(e) => e.currentTarget.setPointerCapture(e.pointerId)}
					onPointerMove={(e) => place(n, e)}
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
		</div>
	);
}
