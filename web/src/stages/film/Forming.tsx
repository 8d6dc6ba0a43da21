import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client, type Schemas } from "../../api/client";
import { useSettings } from "../../api/settings";
import { type Frame, px } from "../../drawing/frame";
import { NumberDisc } from "../../drawing/NumberDisc";
import { LengthField } from "../../readings/LengthField";
import { Button, Choice, NextMove, TroubleNote, Waiting } from "../../ui/parts";

type View = Schemas["FormingView"];
type Place = Schemas["FormingPlace"];
type School = Schemas["FormingSchool"];

/** A way of forming in a word, with a mark that is told without its colour. */
const WAYS: Record<Schemas["Forming"], [string, string]> = {
	press: ["✓", "press"],
	feed: ["✓", "feed"],
	warm: ["~", "warm"],
	warm_and_heat: ["!", "warm, then heat"],
	relief_cut: ["✂", "relief cut"],
	inlay: ["▣", "inlay"],
	two_pieces: ["▥", "two pieces"],
	not_on_this: ["✗", "not with this film"],
};

/** What is tried: another film, the other school, another band, another lap. Nothing for what is settled. */
export type Tried = { film?: string; school?: School; band?: string; lap?: string };

/** Where a piece stretches, with its own film or with what is tried. */
export const useForming = (piece: string | undefined, tried: Tried) =>
	useQuery({
		queryKey: ["film", "forming", piece, tried],
		enabled: piece !== undefined,
		// What was tried before stands until the answer is there; what another piece does is no answer.
		placeholderData: (before, query) => (query?.queryKey[2] === piece ? before : undefined),
		queryFn: () =>
			ask(client.GET("/api/pieces/{id}/forming", { params: { path: { id: piece ?? "" }, query: tried } })),
	});

/** Places over the picture, each with its number; what goes past the aim has a thick rim. */
export function FormingMarks({ view, frame }: { view: View; frame: Frame }) {
	return (
		<g pointerEvents="none" data-testid="forming-marks">
			{view.stretches.places.map((p) => {
				const [outline] = p.outlines;
				if (!outline) return null;
				const corners = outline.map(([x = 0, y = 0]) => px(frame, [x, y]));
				const xs = corners.map((c) => c[0]);
				const ys = corners.map((c) => c[1]);
				const [x, y] = [(Math.min(...xs) + Math.max(...xs)) / 2, (Math.min(...ys) + Math.max(...ys)) / 2];
				const wrong = !["press", "feed", "warm"].includes(p.forming);
				return (
					<g key={p.number}>
						<polygon
							points={corners.map((c) => c.join()).join(" ")}
							fill="var(--color-tape)"
							fillOpacity={0.5}
							stroke={wrong ? "var(--color-trouble)" : "var(--color-ink)"}
							strokeWidth={wrong ? 4 : 2}
						/>
						<NumberDisc x={x} y={y} number={p.number} radius={15} />
					</g>
				);
			})}
		</g>
	);
}

/** What the places under a piece ask for next. */
export function NextForming({ view, called }: { view: View; called: string }) {
	const other = view.stretches.places.find((p) =>
		["relief_cut", "inlay", "two_pieces", "not_on_this"].includes(p.forming),
	);
	const heat = view.stretches.places.filter((p) => p.must_reach).length;
	if (other) {
		return (
			<NextMove
				alarm
				sentence={`${other.name} wants another way: ${WAYS[other.forming][1]}. Settle it before it is printed.`}
			/>
		);
	}
	return (
		<NextMove
			sentence={
				view.stretches.places.length === 0
					? `Nothing under ${called} stretches.`
					: `${called} goes on everywhere with ${view.film_name}.`
			}
			detail={
				heat > 0
					? `${heat} ${heat === 1 ? "place" : "places"} must reach its temperature once it lies.`
					: undefined
			}
		/>
	);
}

/** A stretch as percent. */
const share = (of: number) => `${Math.round(of * 100)} %`;

/** How film gets into every place under a piece, and how its edges end. */
export function FormingPart({
	found,
	tried,
	onTry,
	unit,
}: {
	unit: Schemas["Unit"];
	found: ReturnType<typeof useForming>;
	tried: Tried;
	onTry: (tried: Tried) => void;
}) {
	const { settings, save } = useSettings();
	const view = found.data;
	if (!view) return <Waiting what="where it stretches" error={found.error} />;
	const { stretches } = view;
	const trying = Object.values(tried).some((t) => t !== undefined);
	return (
		<div className="grid grid-cols-[minmax(0,1fr)] gap-3 @4xl:grid-cols-2">
			<section aria-label="Where it stretches" className="rounded bg-paper p-4">
				<h3 className="font-bold text-xl">
					{stretches.places.length === 0
						? "Nothing under it stretches"
						: `${stretches.places.length} ${stretches.places.length === 1 ? "place" : "places"}, in this order`}
				</h3>
				<p>
					<b>{view.film_name}</b>
					{view.assumed && ", as is usual for its kind"}: kept under{" "}
					<b className="whitespace-nowrap">{share(stretches.aim)}</b> one way,{" "}
					<b className="whitespace-nowrap">{share(stretches.aim_both_ways)}</b> both ways; never past{" "}
					<b className="whitespace-nowrap">{share(stretches.never_past)}</b>
					{stretches.never_from_sheet ? ", by its sheet." : ", ours: its sheet does not say."}
				</p>
				{found.error && <TroubleNote>{found.error.message}</TroubleNote>}
				<ol>
					{stretches.places.map((p) => (
						<PlaceRow key={`${p.number} ${p.name}`} place={p} />
					))}
				</ol>
				{stretches.says.map((s) => (
					<p key={s} className="mt-1">
						{s}
					</p>
				))}
				{stretches.places.length > 0 && (
					<p className="mt-2 text-soft">
						Heat burns skin, film and what is under it; no heat near fuel, solvent, wet cleaner or an air bag.
						The film’s and the tool’s own sheets decide.
					</p>
				)}
			</section>
			<div className="grid content-start gap-3">
				<section aria-label="Try it otherwise" className="rounded bg-paper p-4">
					<h3 className="font-bold text-xl">{trying ? "As it is tried" : "Try it otherwise"}</h3>
					<div className="mt-1 grid grid-cols-[minmax(0,1fr)] gap-3 @md:grid-cols-2">
						<Choice
							label="Film"
							value={tried.film ?? "own"}
							options={[
								{ value: "own", text: "its own" },
								...view.others.map((o) => ({
									value: o.id,
									text: `${o.name}: ${WAYS[o.worst][1]}${o.past_aim > 0 ? `, ${o.past_aim} past` : ""}`,
								})),
							]}
							onChange={(film) => onTry({ ...tried, film: film === "own" ? undefined : film })}
						/>
						<Choice
							label="What is warmed"
							value={view.school}
							options={[
								{ value: "band", text: "a band back from the rim" },
								{ value: "bridge", text: "the bridged film" },
							]}
							onChange={(school) => onTry({ ...tried, school })}
						/>
						<LengthField
							label="Warm so far round"
							printed={view.band.text}
							onCommit={async (band) => {
								await ask(client.POST("/api/lengths", { body: { text: band, unit } }));
								onTry({ ...tried, band });
							}}
						/>
						{view.lap && (
							<LengthField
								label="Two pieces lap by"
								printed={view.lap.text}
								onCommit={async (lap) => {
									await ask(client.POST("/api/lengths", { body: { text: lap, unit } }));
									onTry({ ...tried, lap });
								}}
							/>
						)}
					</div>
					{trying && (
						<div className="mt-2 flex flex-wrap gap-2">
							<Button onClick={() => onTry({})}>As it was</Button>
							{settings && (tried.school || tried.band) && (
								<Button
									onClick={() =>
										void save({ forming: view.school, warm_band_mm: view.band.mm }).then(() =>
											onTry({ film: tried.film, lap: tried.lap }),
										)
									}
								>
									The shop always does so
								</Button>
							)}
						</div>
					)}
				</section>
				<EdgesPart edges={view.edges} />
			</div>
		</div>
	);
}

function PlaceRow({ place: p }: { place: Place }) {
	const [open, setOpen] = useState(false);
	const [mark, word] = WAYS[p.forming];
	const wrong = !["press", "feed", "warm"].includes(p.forming);
	return (
		<li aria-label={p.name} className="border-line border-t py-2">
			<button
				type="button"
				aria-expanded={open}
				onClick={() => setOpen(!open)}
				className="flex min-h-11 w-full min-w-0 items-start gap-3 text-left"
			>
				<b className="text-xl">{p.number}</b>
				<span className="min-w-0 grow">
					<b>{p.name}</b>: <b className={wrong ? "text-trouble" : ""}>{`${mark} ${word}`}</b>
					<span className="block">{p.line}</span>
				</span>
				<span className="shrink-0 text-right">
					{p.straight != null && p.straight > 0 && p.forming !== "feed" && (
						<span className="block">
							<b className="font-reading text-xl">{share(p.warmed ?? p.straight)}</b>{" "}
							{p.warmed != null ? "warmed" : "straight in"}
						</span>
					)}
					{p.both_ways != null && (
						<span className="block">
							<b className="font-reading">{share(p.both_ways)}</b> both ways
						</span>
					)}
				</span>
			</button>
			{open && (
				<ul className="pl-7 text-soft">
					{p.why.map((w) => (
						<li key={w}>{w}</li>
					))}
					{p.must_reach && <li>Round it {p.must_reach.text} must reach its temperature.</li>}
				</ul>
			)}
		</li>
	);
}

function EdgesPart({ edges }: { edges: View["edges"] }) {
	return (
		<section aria-label="Edges" className="rounded bg-paper p-4">
			<h3 className="font-bold text-xl">How its edges end</h3>
			<ol>
				{edges.runs.map((r) => (
					<li key={`${r.end} ${r.at ?? ""}`} className="border-line border-t py-1">
						<b className="font-reading">{r.length.text}</b> {r.at ? `at ${r.at}` : PLAIN[r.end]}: {r.says}
					</li>
				))}
			</ol>
			{edges.sealed.length > 0 && (
				<ul>
					{edges.sealed.map((s) => (
						<li key={`${s.with} ${s.at ?? ""}`}>
							<b className="font-reading">{s.length.text}</b>{" "}
							{s.with === "tape" ? s.at : s.at ? `at ${s.at}` : "all round"} sealed with{" "}
							{s.with === "tape" ? "seal tape" : "sealer"}.
						</li>
					))}
				</ul>
			)}
			{edges.says.map((s) => (
				<p key={s} className="mt-1">
					{s}
				</p>
			))}
			{edges.cutting_tape.mm > 0 && (
				<p className="mt-1">
					Cutting tape before the film: <b className="font-reading">{edges.cutting_tape.text}</b>.
				</p>
			)}
			{edges.runs.length > 0 && (
				<p className="mt-2 text-soft">Blades cut: away from the hand, never on glass.</p>
			)}
		</section>
	);
}

const PLAIN: Record<Schemas["EdgeEnd"], string> = {
	body: "at the body’s edge",
	gap: "in a gap",
	rubber: "beside rubber",
	hardware: "round something",
	relief: "a relief cut, closed again",
	line: "along a line",
	flat: "on the flat",
};
