import type { Schemas } from "../api/client";

/** A piece's figures beside those of its twin on the other side. */
export function FiguresOfBoth({ both, there }: { both: Schemas["BothSides"]; there?: string }) {
	if (both.figures.length === 0) return null;
	return (
		<table className="w-full">
			<thead>
				<tr className="text-left text-soft">
					<th />
					<th>Here</th>
					<th>{there ?? "There"}</th>
					<th>Difference</th>
				</tr>
			</thead>
			<tbody>
				{both.figures.map((f) => (
					<tr key={f.name} className={f.too_much ? "font-bold text-trouble" : ""}>
						<td>{f.name}</td>
						<td className="font-reading">{f.here.text}</td>
						<td className="font-reading">{f.there.text}</td>
						<td className="font-reading">
							{f.too_much && "⊗ "}
							{f.difference.text}
						</td>
					</tr>
				))}
			</tbody>
		</table>
	);
}
