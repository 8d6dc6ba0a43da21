import { Link } from "react-router";

/** Back to the yard. */
export const YardLink = ({ high = "h-11" }: { high?: "h-11" | "h-9" }) => (
	<Link
		to="/"
		className={`flex ${high} items-center gap-2 font-bold text-lg`}
		aria-label="Windrift, back to the yard"
	>
		<img src="/mark.svg" alt="" width={24} height={24} />
		<span>Yard</span>
	</Link>
);
