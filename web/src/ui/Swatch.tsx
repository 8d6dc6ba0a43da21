/** A film's colour. Its name always stands beside it. */
export function Swatch({ colour }: { colour: string }) {
	return (
		<span
			aria-hidden
			className="inline-block size-9 shrink-0 rounded-sm border border-soft"
			style={{ background: colour }}
		/>
	);
}
