import { useQuery } from "@tanstack/react-query";
import { ask, client } from "../../../api/client";
import type { View } from "./types";

/** How the marking of the vehicle's other side differs: both are alike unless something in the way says otherwise. */
export function OtherSides({ view }: { view: View }) {
	const told = useQuery({
		queryKey: ["marking", view.side, "other-sides", view.revision, view.vehicle_revision],
		queryFn: ({ signal }) =>
			ask(client.GET("/api/sides/{id}/marking/other-sides", { params: { path: { id: view.side } }, signal })),
	});
	if (!told.data || told.data.length === 0) return null;
	return (
		<section aria-label="The other side" className="mt-3 rounded bg-paper p-4">
			{told.data.map((o) =>
				o.differs.length === 0 ? (
					<p key={o.name}>✓ The {o.name} is laid out alike: same places, lengths and colours.</p>
				) : (
					<div key={o.name}>
						<h3 className="font-bold">Not like the {o.name}</h3>
						<ul>
							{o.differs.map((d) => (
								<li key={d}>{d}</li>
							))}
						</ul>
					</div>
				),
			)}
		</section>
	);
}
