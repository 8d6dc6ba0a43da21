import { useRef, useState } from "react";
import { ask, client, freshKey, type Schemas } from "../../api/client";
import { TroubleNote } from "../../ui/parts";
import { useTelling } from "../lay-out/useTelling";

/** The upright edge of a panel, read at its upper and its lower corner: it decides where every later panel falls. */
export function Upright({
	piece,
	edge,
	refresh,
}: {
	piece: Schemas["PieceView"];
	edge: Schemas["UprightEdge"];
	refresh: () => Promise<void>;
}) {
	const [read, setRead] = useState({ top: "", foot: "" });
	const [answer, setAnswer] = useState<Schemas["UprightAnswer"] | null>(null);
	const { wrong, tell } = useTelling();
	const key = useRef(freshKey());
	const send = () =>
		tell(
			ask(
				client.POST("/api/pieces/{id}/upright", {
					params: { path: { id: piece.id } },
					body: { id: key.current, top_mm: read.top, foot_mm: read.foot },
				}),
			)
				.then((told) => {
					key.current = freshKey();
					setAnswer(told);
				})
				.finally(() => refresh()),
		);
	return (
		<form
			aria-label="Upright edge"
			className="flex flex-wrap items-end gap-3 rounded bg-paper p-4"
			onSubmit={(e) => {
				e.preventDefault();
				send();
			}}
		>
			<h2 className="w-full font-bold text-xl">Upright edge of the panel, back from the front</h2>
			{(["top", "foot"] as const).map((end) => (
				<label key={end} className="flex flex-col gap-1">
					<span>
						{end === "top" ? "Upper" : "Lower"} corner, wanted{" "}
						<strong className="font-reading">{edge[end].text}</strong>
					</span>
					<input
						className="h-16 w-56 rounded border border-soft bg-white px-3 font-bold font-reading text-2xl"
						value={read[end]}
						autoComplete="off"
						onChange={(e) => {
							setAnswer(null);
							setRead({ ...read, [end]: e.target.value });
						}}
					/>
				</label>
			))}
			<button
				type="submit"
				disabled={!read.top.trim() || !read.foot.trim()}
				className="min-h-16 rounded border border-soft bg-paper px-5 text-xl disabled:opacity-60"
			>
				Edge read
			</button>
			{answer && (
				<p role="status" className={`w-full font-semibold ${answer.right ? "" : "text-trouble"}`}>
					{answer.right ? "✓ " : "! "}
					{answer.sentence}
				</p>
			)}
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
		</form>
	);
}
