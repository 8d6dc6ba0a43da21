import { Link } from "react-router";
import { NextMove } from "../ui/parts";
import { stagePath } from "./stages";

/** What a stage shows of a side on which nothing is laid out yet. */
export const LayOutFirst = ({ job, side, says }: { job: string; side: string; says: string }) => (
	<>
		<main className="floor grow px-6 py-6 text-xl">{says}</main>
		<NextMove sentence="Lay out a piece first.">
			<Link
				to={`${stagePath(job, "lay_out")}?side=${side}`}
				className="flex min-h-16 items-center rounded bg-tape px-6 font-bold text-ink text-xl"
			>
				Lay out
			</Link>
		</NextMove>
	</>
);
