import { useQuery } from "@tanstack/react-query";
import { ask, client, type Schemas, told } from "../../api/client";
import type { Editing } from "../../api/queries";
import { useTelling } from "../../job/useTelling";
import { FiguresOfBoth } from "../../ui/BothSides";
import { Button, TroubleNote } from "../../ui/parts";

/** The story tape of the side, the gaps between its pieces, and both sides beside each other. */
export function WholeSide({ side, editing }: { side: Schemas["SideView"]; editing: Editing }) {
	const story = useQuery({
		queryKey: ["side", side.id, "story", side.pieces.map((p) => `${p.id}${p.revision}`).join()],
		queryFn: () => ask(client.GET("/api/sides/{id}/story", { params: { path: { id: side.id } } })),
	});
	const { wrong, tell } = useTelling();
	if (story.error) {
		return <TroubleNote>{told(story.error)}</TroubleNote>;
	}
	if (!story.data) return <p role="status">Working it out…</p>;
	const { stories, both, other_side } = story.data;
	const paper = side.unit === "millimetre" ? "a4" : "letter";
	const href = (strip: boolean) => `/api/sides/${side.id}/story.pdf?paper=${paper}&strip=${strip}`;
	const untied = both.some((b) => b.twin == null);
	return (
		<div className="grid gap-4 @4xl:grid-cols-2">
			{stories.map((one) => (
				<section key={one.datum} aria-label={`Story tape along the ${one.datum}`}>
					<div className="mb-1 flex flex-wrap items-center justify-between gap-2">
						<h3 className="font-bold">Story tape along the {one.datum}</h3>
						<span className="flex gap-2">
							<a
								href={href(false)}
								className="flex min-h-11 items-center rounded border border-soft bg-paper px-4"
							>
								Print the list
							</a>
							<a
								href={href(true)}
								className="flex min-h-11 items-center rounded border border-soft bg-paper px-4"
							>
								Print it full size
							</a>
						</span>
					</div>
					<table className="w-full">
						<thead>
							<tr className="text-left text-soft">
								<th>Mark</th>
								<th>Running</th>
								<th>From the last</th>
								<th>Down</th>
							</tr>
						</thead>
						<tbody>
							{one.marks.map((m) => (
								<tr key={`${m.name} ${m.running.mm}`} className="border-soft/40 border-b">
									<td>{m.name}</td>
									<td className="font-bold font-reading">{m.running.text}</td>
									<td className="font-reading">{m.gap.text}</td>
									<td className="font-bold font-reading">{m.down?.text}</td>
								</tr>
							))}
						</tbody>
					</table>
					<h3 className="mt-3 mb-1 font-bold">Gaps along it</h3>
					<ul>
						{one.gaps.map((g) => (
							<li key={`${g.from} ${g.to}`}>
								<span className="font-bold font-reading">{g.gap.text}</span> from {g.from} to {g.to}
							</li>
						))}
					</ul>
				</section>
			))}
			{other_side && (
				<section aria-label="Both sides">
					<h3 className="mb-1 font-bold">
						{side.name} and {other_side}
					</h3>
					{both.map((b) => (
						<div key={b.piece} className="mb-2 rounded bg-paper p-3">
							<strong>{b.called}</strong>
							<FiguresOfBoth both={b} />
							{b.trouble && <TroubleNote>{b.trouble}</TroubleNote>}
						</div>
					))}
					{untied && (
						<Button onClick={() => tell(editing.mirrorPieces(side.id))}>
							Lay the missing ones out on the {other_side}
						</Button>
					)}
					{wrong && <TroubleNote>{wrong}</TroubleNote>}
				</section>
			)}
		</div>
	);
}
