import { useId, useRef, useState } from "react";
import { type Point, readingWidth } from "../drawing/frame";
import { type Box, leaves, settle } from "../drawing/tags";
import { entryOf } from "./entry";
import { TouchEntry } from "./TouchEntry";
import { useTyped } from "./useTyped";

/** A figure in the picture, where the tape would be held. */
export type PictureFigure = {
	key: string;
	/** What it is, for whoever does not see the picture. */
	label: string;
	text: string;
	/** What it points at, px. */
	at: Point;
	/** Where its middle would best be, px. */
	middle: Point;
	/** Not there where it only tells. */
	onCommit?: (text: string) => Promise<unknown>;
	/** A slip stands on blue, a measure on the paper. */
	look: "slip" | "measure" | "chain";
	/** Drawn differently: nobody has measured it. */
	doubtful?: boolean;
};

const SIZES = { slip: 22, measure: 17, chain: 17 };
/** The same where the picture is a phone's, px wide. */
const PHONE = 520;
const SMALL = { slip: 17, measure: 15, chain: 14 };
const tall = (look: PictureFigure["look"], size: number) => size + (look === "slip" ? 14 : 11);
const wide = ({ text, look }: PictureFigure, size: number) =>
	readingWidth(text, size) + (look === "slip" ? 22 : 16);

/**
 * The figures of a picture, each an input at its own place: touched it opens for typing, Tab goes on along the tape. They stand over the
 * drawing and cover neither each other nor what they point at; where one had to stand aside, a line leads to it.
 */
export function Figures({
	figures,
	taken = [],
	width,
	height,
	dim,
}: {
	/** In the order of the tape. */
	figures: readonly PictureFigure[];
	/** What must stay in sight, px. */
	taken?: readonly Box[];
	width: number;
	height: number;
	dim?: boolean;
}) {
	const sizes = width < PHONE ? SMALL : SIZES;
	const boxes = settle(
		figures.map((f) => ({
			at: f.at,
			middle: f.middle,
			w: wide(f, sizes[f.look]),
			h: tall(f.look, sizes[f.look]),
		})),
		taken,
		{ x: 2, y: 2, w: width - 4, h: height - 4 },
	);
	return (
		<div className={`pointer-events-none absolute inset-0 ${dim ? "opacity-45" : ""}`} data-testid="figures">
			<svg width={width} height={height} className="absolute inset-0" aria-hidden>
				{figures.map((f, n) => {
					const box = boxes[n];
					if (!box) return null;
					const [x, y] = leaves(box, f.at);
					const far = Math.hypot(x - f.at[0], y - f.at[1]) > 14 && aside(box, f.middle);
					return (
						far && (
							<line
								key={f.key}
								x1={x}
								y1={y}
								x2={f.at[0]}
								y2={f.at[1]}
								stroke="var(--color-measure)"
								strokeWidth={1.5}
								strokeDasharray="3 3"
							/>
						)
					);
				})}
			</svg>
			{figures.map((f, n) => {
				const box = boxes[n];
				return box && <Tag key={f.key} figure={f} box={box} size={sizes[f.look]} />;
			})}
		</div>
	);
}

/** Whether a tag had to stand aside from where it would best be. */
const aside = (box: Box, [x, y]: Point) =>
	Math.hypot(box.x + box.w / 2 - x, box.y + box.h / 2 - y) > Math.max(box.w, box.h) / 2;

const LOOKS = {
	slip: "bg-measure text-white border-paper",
	measure: "bg-paper text-measure border-measure",
	chain: "bg-liner text-measure border-transparent underline underline-offset-4",
};

function Tag({ figure, box, size }: { figure: PictureFigure; box: Box; size: number }) {
	const { label, text, look, onCommit, doubtful } = figure;
	const place = { left: box.x, top: box.y, width: box.w, height: box.h, fontSize: size };
	const face = `absolute flex items-center justify-center rounded border-[1.5px] px-0.5 text-center font-bold font-reading leading-none ${LOOKS[look]} ${doubtful ? "!border-dashed !border-trouble !text-trouble italic" : ""}`;
	if (!onCommit) {
		return (
			<span
				data-testid="figure"
				className={`${face} ${look === "chain" ? "!font-normal !text-ink no-underline" : ""}`}
				style={place}
			>
				{text}
			</span>
		);
	}
	return <TypedTag label={label} text={text} face={face} place={place} onCommit={onCommit} />;
}

function TypedTag({
	label,
	text,
	face,
	place,
	onCommit,
}: {
	label: string;
	text: string;
	face: string;
	place: { left: number; top: number; width: number; height: number; fontSize: number };
	onCommit: (text: string) => Promise<unknown>;
}) {
	const { field, value, wrong, type, commit } = useTyped(text, onCommit);
	const [touched, setTouched] = useState(false);
	const input = useRef<HTMLInputElement>(null);
	const id = useId();
	const width = Math.max(place.width, readingWidth(value, place.fontSize) + 18);
	return (
		<>
			<input
				{...field}
				ref={input}
				data-testid="figure"
				aria-label={`${label}, in the picture`}
				aria-describedby={wrong ? id : undefined}
				inputMode="text"
				onFocus={(e) => e.target.select()}
				onPointerDown={(e) => {
					e.stopPropagation();
					// A finger gets keys and the drawn inch in place of the phone's own keyboard; other units are typed.
					const drawn = e.pointerType !== "mouse" && entryOf(value) !== null;
					e.currentTarget.inputMode = drawn ? "none" : "text";
					setTouched(drawn);
				}}
				onBlur={() => {
					setTouched(false);
					field.onBlur();
				}}
				className={`${face} pointer-events-auto cursor-text focus:z-20 focus:shadow-lg ${wrong ? "!bg-trouble !text-white" : ""}`}
				style={{ ...place, width }}
			/>
			{touched && (
				<TouchEntry
					label={label}
					text={value}
					onText={type}
					onKeep={async () => {
						if (await commit()) input.current?.blur();
					}}
				/>
			)}
			{wrong && (
				<p
					role="alert"
					id={id}
					className="absolute z-30 max-w-80 rounded border-trouble border-l-4 bg-trouble-soft px-3 py-2 text-base text-trouble shadow-lg"
					style={{ left: place.left, top: place.top + place.height + 4 }}
				>
					<strong aria-hidden>! </strong>
					{wrong}
				</p>
			)}
		</>
	);
}
