import { Link } from "react-router";
import { WhoChoice } from "../job/Who";

/** The head of a page of the shop: back to the yard, and who is there. */
export const BackToYard = () => (
	<header className="flex flex-wrap items-center justify-between gap-3 px-6 py-2">
		<Link
			to="/"
			className="flex h-11 items-center gap-2 font-bold text-lg"
			aria-label="Windrift, back to the yard"
		>
			<img src="/mark.svg" alt="" width={24} height={24} />
			<span>Yard</span>
		</Link>
		<WhoChoice />
	</header>
);
