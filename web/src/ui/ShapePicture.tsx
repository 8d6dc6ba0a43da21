/** An outline as it looks in a list. */
export function OutlinePicture({
	picture,
	width = 64,
	height = 30,
	filled,
}: {
	picture: { path: string; bounds: number[] } | undefined;
	width?: number;
	height?: number;
	/** Drawn as film, not as a body. */
	filled?: boolean;
}) {
	if (!picture) return null;
	const [x = 0, y = 0, w = 1, h = 1] = picture.bounds;
	const line = Math.max(w / width, h / height) * 1.4;
	return (
		<svg
			width={width}
			height={height}
			viewBox={`${x - line} ${y - line} ${w + 2 * line} ${h + 2 * line}`}
			preserveAspectRatio={filled ? "xMinYMid meet" : "xMidYMid meet"}
			className="shrink-0"
			aria-hidden
		>
			<path
				d={picture.path}
				fill={filled ? "var(--color-ink)" : "var(--color-sheet)"}
				fillRule="evenodd"
				stroke={filled ? "none" : "var(--color-ink)"}
				strokeWidth={line}
			/>
		</svg>
	);
}
