import { useQuery } from "@tanstack/react-query";
import { ask, client } from "../../api/client";
import { Waiting } from "../../ui/parts";

/** What the job needs of the shop, worked out from its plan. */
export function ToOrder({ job }: { job: string }) {
	const list = useQuery({
		queryKey: ["film", "to-order", job],
		queryFn: () => ask(client.GET("/api/jobs/{id}/to-order", { params: { path: { id: job } } })),
	});
	if (!list.data) return <Waiting what="what is needed" error={list.error} />;
	return (
		<section aria-label="What the job needs" className="rounded bg-paper p-4">
			<div className="flex flex-wrap items-center justify-between gap-2">
				<h3 className="font-bold text-xl">
					{list.data.some((n) => n.short) ? "Not everything is on the shelf" : "All of it is on the shelf"}
				</h3>
				<a
					href={`/api/jobs/${job}/to-order.csv`}
					className="flex min-h-11 items-center rounded border border-soft bg-paper px-4"
				>
					As a table (CSV)
				</a>
			</div>
			<ul>
				{list.data.map((n) => (
					<li key={n.what} className="border-line border-t py-2">
						<b>{n.what}</b>:{" "}
						{n.amount && (
							<>
								<b className="font-reading">{n.amount}</b>,{" "}
							</>
						)}
						{n.why}.{n.short && <span className="block font-bold text-trouble">! {n.short}</span>}
					</li>
				))}
			</ul>
			<p className="mt-1 text-soft">
				Each is held against the shelf. How much a metre of edge takes is Windrift’s own until the shop
				changes it there.
			</p>
		</section>
	);
}
