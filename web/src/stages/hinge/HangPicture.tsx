import type { Schemas } from "../../api/client";
import { Closeup } from "../../drawing/Closeup";
import { type Point, px } from "../../drawing/frame";
import { ReliefLines } from "../../drawing/ReliefLines";

/** Tape, liner cuts, stay tape, sections and the second person, on the piece where it hangs. */
export function HangPicture({
	side,
	piece,
	hang,
	maxHeight,
}: {
	side: Schemas["SideView"];
	piece: Schemas["PieceView"];
	hang: Schemas["Hang"];
	maxHeight: number;
}) {
	const points = [
		...piece.hinge.carrier,
		...hang.tape.flatMap((t) => t.corners),
		...(hang.helper ? [hang.helper.at] : []),
	];
	return (
		<Closeup
			side={side}
			pieces={[piece]}
			points={points}
			maxHeight={maxHeight}
			room={34}
			label={`${piece.called}: tape, cuts and sections`}
		>
			{(frame, size) => {
				const corners = (list: readonly (readonly number[])[]) =>
					list.map((p) => px(frame, p).join(",")).join(" ");
				const ends = (line: readonly (readonly number[])[]) =>
					line.map((p) => px(frame, p)) as [Point, Point];
				return (
					<g pointerEvents="none">
						<polygon points={corners(piece.hinge.carrier)} fill="var(--color-sheet)" fillOpacity={0.25} />
						{hang.tape.map((t) => (
							<polygon
								key={t.corners.join()}
								points={corners(t.corners)}
								fill={t.what === "tab" ? "var(--color-tape-tab)" : "var(--color-tape)"}
								fillOpacity={0.85}
								stroke="var(--color-tape-dark)"
								strokeWidth={1.5}
							/>
						))}
						{hang.stay.map((s) => {
							const [a, b] = ends(s.line);
							return (
								<g key={s.sentence}>
									<line
										x1={a[0]}
										y1={a[1]}
										x2={b[0]}
										y2={b[1]}
										stroke="var(--color-tape-dark)"
										strokeWidth={9}
									/>
									<line x1={a[0]} y1={a[1]} x2={b[0]} y2={b[1]} stroke="var(--color-tape)" strokeWidth={6} />
									<Tag x={size.width - 8} y={a[1]} end text={s.from_edge.text} />
								</g>
							);
						})}
						<ReliefLines cuts={piece.worked.flatMap((w) => w.relief ?? [])} frame={frame} />
						{hang.liner.map((l) => {
							const [a, b] = ends(l.line);
							return (
								<g key={l.sentence}>
									<line x1={a[0]} y1={a[1]} x2={b[0]} y2={b[1]} stroke="var(--color-paper)" strokeWidth={6} />
									<line
										x1={a[0]}
										y1={a[1]}
										x2={b[0]}
										y2={b[1]}
										stroke="var(--color-measure)"
										strokeWidth={3}
										strokeDasharray="3 7"
										strokeLinecap="round"
									/>
								</g>
							);
						})}
						{hang.sections.map((s, n) => (
							<g key={s.corners.join()}>
								{hang.sections.length > 1 && (
									<>
										<polygon
											points={corners(s.corners)}
											fill="none"
											stroke="var(--color-paper)"
											strokeWidth={6}
										/>
										<polygon
											points={corners(s.corners)}
											fill="none"
											stroke="var(--color-ink)"
											strokeWidth={2}
											strokeDasharray="10 4"
										/>
										<SectionMark at={px(frame, s.corners[3])} n={n + 1} marked={!!s.note} />
									</>
								)}
							</g>
						))}
						{hang.sections.length === 1 && (
							<polygon
								points={corners(piece.hinge.carrier)}
								fill="none"
								stroke="var(--color-ink)"
								strokeWidth={1.5}
								strokeDasharray="8 5"
							/>
						)}
						{hang.helper && <Hands at={px(frame, hang.helper.at)} />}
					</g>
				);
			}}
		</Closeup>
	);
}

function SectionMark({ at, n, marked }: { at: Point; n: number; marked: boolean }) {
	return (
		<g>
			<circle
				cx={at[0] + 16}
				cy={at[1] - 16}
				r={14}
				fill={marked ? "var(--color-trouble)" : "var(--color-ink)"}
				stroke="var(--color-paper)"
				strokeWidth={2}
			/>
			<text
				x={at[0] + 16}
				y={at[1] - 10}
				textAnchor="middle"
				fontSize={17}
				fontWeight={700}
				fill="var(--color-on-dark)"
			>
				{n}
			</text>
		</g>
	);
}

export function Tag({ x, y, text, end }: { x: number; y: number; text: string; end?: boolean }) {
	const wide = text.length * 10 + 14;
	return (
		<g>
			<rect
				x={end ? x - wide : x}
				y={y - 14}
				width={wide}
				height={28}
				rx={4}
				fill="var(--color-paper)"
				stroke="var(--color-ink)"
			/>
			<text
				x={(end ? x - wide : x) + wide / 2}
				y={y + 6}
				textAnchor="middle"
				fontFamily="B612 Mono"
				fontSize={16}
				fontWeight={700}
				fill="var(--color-ink)"
			>
				{text}
			</text>
		</g>
	);
}

/** Where the second person stands and holds: two hands, with a word. */
function Hands({ at }: { at: Point }) {
	const [x, y] = at;
	return (
		<g>
			<circle cx={x} cy={y} r={19} fill="var(--color-paper)" stroke="var(--color-ink)" strokeWidth={3} />
			<path
				d={`M${x - 8} ${y + 8}v-12m5 8v-11m5 11v-11m5 12v-9`}
				stroke="var(--color-ink)"
				strokeWidth={3.5}
				strokeLinecap="round"
				fill="none"
			/>
		</g>
	);
}
