import { WhoChoice } from "../job/Who";
import { YardLink } from "../ui/YardLink";

/** The head of a page of the shop: back to the yard, and who is there. */
export const BackToYard = () => (
	<header className="flex flex-wrap items-center justify-between gap-3 px-6 py-2">
		<YardLink />
		<WhoChoice />
	</header>
);
