import { useHere } from "../api/live";
import { STAGES } from "./stages";

/** Who else is at this job: on the side at hand by name and stage, elsewhere by name. Nothing where one is alone. */
export function AlsoHere({ job, side, stage }: { job: string; side: string | undefined; stage: string }) {
	const others = useHere(job, side, stage);
	if (others.length === 0) return null;
	const at = (path: string) => Object.values(STAGES).find((s) => s.path === path)?.name ?? path;
	return (
		<ul aria-label="Also here" className="flex min-w-0 flex-wrap gap-x-3 px-6 py-0.5 text-soft">
			{others.map((o) => (
				<li key={o.crew} className={o.side === side ? "font-semibold text-ink" : ""}>
					{o.name} {o.side === side ? `is on this side, in ${at(o.stage)}` : "is on another side"}
				</li>
			))}
		</ul>
	);
}
