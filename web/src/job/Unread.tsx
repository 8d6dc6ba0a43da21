import type { Schemas } from "../api/client";

const WORDS: Record<Schemas["RowKind"], string> = {
	side: "A side",
	feature: "A thing on a side",
	piece: "A piece",
	marked_vehicle: "The vehicle as the rules of marking see it",
	marking: "The marking of a side",
};

/** What is kept and cannot be read: said, and shown as it is kept, while everything else goes on. */
export function Unread({ rows }: { rows: Schemas["Unreadable"][] }) {
	return (
		<section
			aria-label="What cannot be read"
			className="mx-6 mb-3 border-trouble border-l-4 bg-trouble-soft p-4 text-trouble"
		>
			<h2 className="font-bold text-lg">
				! {rows.length === 1 ? "One thing" : `${rows.length} things`} here cannot be read
			</h2>
			<p>
				They are kept as they are, and nothing is worked out from them. Tell whoever looks after Windrift.
			</p>
			<ul className="mt-2 flex flex-col gap-2">
				{rows.map((row) => (
					<li key={row.id}>
						<details>
							<summary className="min-h-11 cursor-pointer py-2">
								{WORDS[row.kind]}: {row.why}
							</summary>
							<pre className="overflow-auto bg-paper p-2 text-ink text-sm">
								{JSON.stringify(row.kept, null, 1)}
							</pre>
						</details>
					</li>
				))}
			</ul>
		</section>
	);
}
