/** A number on a dark disc, so that it is read over any picture. */
export function NumberDisc({
	x,
	y,
	number,
	radius = 17,
}: {
	x: number;
	y: number;
	number: number;
	radius?: number;
}) {
	return (
		<g>
			<circle cx={x} cy={y} r={radius} fill="var(--color-ink)" stroke="var(--color-paper)" strokeWidth={3} />
			<text
				x={x}
				y={y + radius * 0.38}
				textAnchor="middle"
				fontSize={radius * 1.12}
				fontWeight={700}
				fill="var(--color-on-dark)"
			>
				{number}
			</text>
		</g>
	);
}
