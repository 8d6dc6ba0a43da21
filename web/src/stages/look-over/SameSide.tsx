import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client, type Schemas } from "../../api/client";
import type { Editing } from "../../api/queries";
import { useTelling } from "../../job/useTelling";
import { Button, TroubleNote, Waiting } from "../../ui/parts";

/** How this side differs from the one across the vehicle, and what is taken over from there. */
export function SameSide({
	side,
	editing,
	onDone,
}: {
	side: Schemas["SideView"];
	editing: Editing;
	onDone: () => void;
}) {
	const found = useQuery({
		queryKey: ["same", side.id, side.revision, side.features.length],
		queryFn: () => ask(client.GET("/api/sides/{id}/same", { params: { path: { id: side.id } } })),
	});
	const [left, setLeft] = useState<string[]>([]);
	const { wrong, tell } = useTelling();
	const view = found.data;
	if (!view) return <Waiting what="the other side" error={found.error} />;
	const shapes = view.differences.filter((d) => d.what !== "surface");
	const surface = view.differences.find((d) => d.what === "surface");
	const chosen = view.missing.filter((f) => !left.includes(f.id)).map((f) => f.id);
	const take = (body: Schemas["TakeOver"]) =>
		tell(editing.takeOver(side.id, body).then(() => found.refetch()));
	const onlyHere = view.only_here.length > 0 && (
		<section aria-label="Only here" className="rounded bg-paper p-3">
			<h3 className="font-bold">Here and not on the {view.other}</h3>
			<ul>
				{view.only_here.map((f) => (
					<li key={f.id} className="font-reading">
						{f.said}
					</li>
				))}
			</ul>
		</section>
	);
	if (view.differences.length === 0 && view.missing.length === 0) {
		return (
			<div className="grid gap-3">
				<p className="text-lg">
					Shape, references and surface are the same as on the {view.other}, in mirror image
					{view.only_here.length > 0
						? ", and what is on it is here too."
						: ", and so is what was measured on it."}
				</p>
				{onlyHere}
				<Button look="next" onClick={onDone} className="justify-self-start">
					Done
				</Button>
			</div>
		);
	}
	return (
		<div className="grid gap-4">
			{view.unmeasured_there > 0 && (
				<p>
					! {view.unmeasured_there} figures of the {view.other} are not measured yet: taken over they are not
					measured here either.
				</p>
			)}
			{view.differences.length > 0 && (
				<table className="w-full border-collapse bg-paper text-left text-lg">
					<thead>
						<tr className="border-soft border-b-2">
							<th className="p-2">What differs</th>
							<th className="p-2">Here</th>
							<th className="p-2 first-letter:uppercase">{view.other}</th>
						</tr>
					</thead>
					<tbody>
						{view.differences.map((d) => (
							<tr key={d.what} className="border-line border-b">
								<td className="p-2">{d.what}</td>
								<td className="p-2 font-reading">{d.here}</td>
								<td className="p-2 font-reading">{d.there}</td>
							</tr>
						))}
					</tbody>
				</table>
			)}
			<div className="flex flex-wrap gap-3">
				{shapes.length > 0 && (
					<Button onClick={() => take({ shape: true, surface: false, features: [] })}>
						Take its shape over
					</Button>
				)}
				{surface && (
					<Button onClick={() => take({ shape: false, surface: true, features: [] })}>
						Take its surface over
					</Button>
				)}
			</div>
			{view.missing.length > 0 && (
				<fieldset className="grid gap-1">
					<legend className="font-bold text-lg">On the {view.other} and not here</legend>
					{view.missing.map((f) => (
						<label key={f.id} className="flex min-h-11 items-center gap-3">
							<input
								type="checkbox"
								checked={!left.includes(f.id)}
								onChange={(e) =>
									setLeft(e.target.checked ? left.filter((id) => id !== f.id) : [...left, f.id])
								}
								className="h-6 w-6 accent-spruce"
							/>
							<span className="font-reading">{f.said}</span>
						</label>
					))}
				</fieldset>
			)}
			{onlyHere}
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
			{chosen.length > 0 && (
				<Button
					look="next"
					className="justify-self-start"
					onClick={() => take({ shape: false, surface: false, features: chosen })}
				>
					{chosen.length === 1 ? "Put it on this side too" : `Put these ${chosen.length} on this side too`}
				</Button>
			)}
		</div>
	);
}
