import { type PointerEvent, useRef, useState } from "react";
import { Button } from "../../ui/parts";

const [WIDTH, HEIGHT] = [720, 220];

/** A name and a drawn signature: strokes of points, 0 to 1 across and down the box. Or the typed name alone stands for it. */
export function SignaturePad({
	onSign,
}: {
	onSign: (name: string, strokes: number[][][], typed: boolean) => void;
}) {
	const [name, setName] = useState("");
	const [strokes, setStrokes] = useState<number[][][]>([]);
	/** The finger or pen that draws; a palm that comes to rest beside it draws nothing. */
	const drawing = useRef<number | null>(null);
	const at = (e: PointerEvent<SVGSVGElement>): number[] => {
		const box = e.currentTarget.getBoundingClientRect();
		const share = (v: number) => Math.round(Math.min(1, Math.max(0, v)) * 1000) / 1000;
		return [share((e.clientX - box.left) / box.width), share((e.clientY - box.top) / box.height)];
	};
	return (
		<div className="flex flex-col gap-3">
			<label htmlFor="signer" className="text-soft">
				Name
			</label>
			<input
				id="signer"
				value={name}
				onChange={(e) => setName(e.target.value)}
				className="h-11 rounded border border-soft bg-paper px-3 text-lg"
			/>
			<svg
				viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
				role="img"
				aria-label="Sign here"
				data-testid="signature"
				className="w-full cursor-crosshair touch-none rounded border-2 border-soft bg-sheet"
				onPointerDown={(e) => {
					if (drawing.current !== null) return;
					e.currentTarget.setPointerCapture(e.pointerId);
					drawing.current = e.pointerId;
					const p = at(e);
					setStrokes((s) => [...s, [p]]);
				}}
				onPointerMove={(e) => {
					if (drawing.current !== e.pointerId) return;
					const p = at(e);
					setStrokes((s) => [...s.slice(0, -1), [...(s.at(-1) ?? []), p]]);
				}}
				onPointerUp={(e) => {
					if (drawing.current === e.pointerId) drawing.current = null;
				}}
				onPointerCancel={(e) => {
					if (drawing.current === e.pointerId) drawing.current = null;
				}}
			>
				<line
					x1={30}
					x2={WIDTH - 30}
					y1={HEIGHT * 0.78}
					y2={HEIGHT * 0.78}
					stroke="var(--color-soft)"
					strokeDasharray="4 6"
				/>
				{strokes.map((stroke, n) => (
					<polyline
						key={n}
						points={stroke.map(([x = 0, y = 0]) => `${x * WIDTH},${y * HEIGHT}`).join(" ")}
						fill="none"
						stroke="var(--color-ink)"
						strokeWidth={3}
						strokeLinecap="round"
						strokeLinejoin="round"
					/>
				))}
			</svg>
			<div className="flex flex-wrap justify-end gap-3">
				<Button onClick={() => setStrokes([])}>Clear</Button>
				{strokes.length === 0 && (
					<Button onClick={() => onSign(name, [], true)}>The typed name is my signature</Button>
				)}
				<Button look="next" onClick={() => onSign(name, strokes, false)}>
					Signed
				</Button>
			</div>
		</div>
	);
}
