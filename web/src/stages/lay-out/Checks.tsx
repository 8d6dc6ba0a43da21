import type { Schemas } from "../../api/client";
import { TroubleNote } from "../../ui/parts";

const KEPT = {
	yes: { mark: "✓", word: "kept" },
	no: { mark: "⊗", word: "not kept" },
	cannot_tell: { mark: "?", word: "cannot tell" },
} as const;

/** Whether a piece can be weeded, from how far it is read, in which order its layers go on, and the rule that it is to keep. */
export function Checks({ piece }: { piece: Schemas["PieceView"] }) {
	const { weeding, legibility, findings, layers, overlaps } = piece;
	return (
		<div className="grid gap-4 @3xl:grid-cols-2">
			{findings.length > 0 && (
				<section aria-label="The rule, clause by clause" className="@3xl:col-span-2">
					<h3 className="mb-1 font-bold">The rule, clause by clause</h3>
					<ul className="grid gap-1">
						{findings.map((f) => (
							<li
								key={f.clause + f.asks}
								className={`grid gap-x-4 rounded bg-paper px-3 py-2 @lg:grid-cols-[9rem_1fr_1fr] ${
									f.kept === "no" ? "border-trouble border-l-4" : ""
								}`}
							>
								<strong className={f.kept === "no" ? "text-trouble" : ""}>
									{KEPT[f.kept].mark} {KEPT[f.kept].word}
								</strong>
								<span>
									{f.asks} <span className="text-soft">({f.clause})</span>
								</span>
								<span>Measured: {f.measured}.</span>
							</li>
						))}
					</ul>
					<p className="mt-1 text-soft">
						Figures from memory: check them against the text in force. The operator and the competent
						authority have the last word.
					</p>
				</section>
			)}
			{legibility && (
				<section aria-label="From how far it is read">
					<h3 className="mb-1 font-bold">From how far it is read</h3>
					<ul className="grid gap-1">
						{legibility.sentences.map((s) => (
							<li key={s}>{s}</li>
						))}
					</ul>
				</section>
			)}
			<section aria-label="Cutting and weeding">
				<h3 className="mb-1 font-bold">Cutting and weeding</h3>
				<dl className="grid grid-cols-[auto_1fr] gap-x-4">
					{(
						[
							["Thinnest stroke", weeding.stroke],
							["Narrowest gap", weeding.gap],
							["Smallest piece of film, across", weeding.island],
						] as const
					).map(
						([name, length]) =>
							length && (
								<div key={name} className="contents">
									<dt>{name}</dt>
									<dd className="font-bold font-reading">{length.text}</dd>
								</div>
							),
					)}
				</dl>
				{weeding.troubles.map((t) => (
					<TroubleNote key={t}>{t}</TroubleNote>
				))}
			</section>
			{(layers.length > 1 || overlaps.length > 0) && (
				<section aria-label="Order of laying">
					<h3 className="mb-1 font-bold">What goes on first</h3>
					{layers.length > 1 && (
						<ol className="list-decimal pl-6">
							{layers.map((layer) => (
								<li key={layer.kind}>
									<span
										className="mr-2 inline-block h-4 w-4 rounded-sm border border-soft align-middle"
										style={{ background: layer.colour }}
									/>
									{layer.name}, cut with its two registration marks
								</li>
							))}
						</ol>
					)}
					{layers.length > 1 && (
						<p className="text-soft">Lay each on the marks of the one before; weed the marks last.</p>
					)}
					<ul>
						{overlaps.map((o) => (
							<li key={o.other} className={o.over == null ? "font-bold text-trouble" : ""}>
								{o.sentence}
							</li>
						))}
					</ul>
				</section>
			)}
		</div>
	);
}
