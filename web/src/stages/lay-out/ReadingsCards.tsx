import type { ReactNode } from "react";
import type { Schemas } from "../../api/client";
import { onDatum, px } from "../../drawing/frame";
import { Magnified } from "../../drawing/SidePicture";
import { capital, ENDS, endName } from "../../readings/flats";

type Flat = Schemas["Flat"];

/** The readings of a piece, each with a magnified window where it is taken. */
export function ReadingsCards({
	side,
	piece,
	dim,
}: {
	side: Schemas["SideView"];
	piece: Schemas["PieceView"];
	dim: boolean;
}) {
	const { flats, width, across = [] } = piece.readings;
	const { landing } = piece;
	const near = landing.nearest.slice(0, 3);
	const heads = landing.heads_clear + landing.heads_covered + landing.heads_edge_on;
	return (
		<div
			className={`grid gap-3 @lg:grid-cols-2 @6xl:grid-cols-4 ${dim ? "opacity-45" : ""}`}
			data-testid="readings"
		>
			{ENDS.map((end) => (
				<Card
					key={end}
					title={`${capital(endName(flats, end))} flat`}
					window={<FlatWindow side={side} piece={piece} flat={flats[end]} />}
				>
					<Big>{flats[end].wanted.text}</Big>
					<p>{flats[end].to}</p>
					<p className="font-reading">{flats[end].back.text} back</p>
				</Card>
			))}
			{across.length > 0 && (
				<Card title="Across the vehicle">
					<ul>
						{across.map((a) => (
							<li key={a.end}>
								{a.in_from_end.mm > 0 ? <b className="font-reading">{a.in_from_end.text}</b> : null}
								{a.in_from_end.mm > 0 ? " in from" : "at"} its {a.end} end:{" "}
								<b className="font-reading">{a.left[1].text}</b> to the {a.left[0]},{" "}
								<b className="font-reading">{a.width.text}</b> wide,{" "}
								<b className="font-reading">{a.right[1].text}</b> to the {a.right[0]}
							</li>
						))}
					</ul>
				</Card>
			)}
			<Card title="Rivet heads in its height">
				<Big>{heads}</Big>
				<p>
					{landing.heads_clear} clear, {landing.heads_covered} covered
				</p>
				<p className={landing.heads_edge_on > 0 ? "font-bold text-trouble" : ""}>
					{landing.heads_edge_on > 0
						? `⊗ ${landing.heads_edge_on} under a cut edge`
						: "none under a cut edge"}
				</p>
			</Card>
			<Card title={piece.spec.art.is === "lettering" ? "First to last letter" : "Width"}>
				<Big>{width.text}</Big>
				<ul>
					{near.map((n) => (
						<li key={n.to} className={n.distance.mm < 0 ? "font-bold text-trouble" : ""}>
							<span className="font-reading">{n.distance.text}</span> to the {n.to}
						</li>
					))}
				</ul>
			</Card>
		</div>
	);
}

const Big = ({ children }: { children: ReactNode }) => (
	<p className="whitespace-nowrap font-bold font-reading text-3xl leading-tight">{children}</p>
);

function Card({ title, window, children }: { title: string; window?: ReactNode; children: ReactNode }) {
	return (
		<section className="flex min-h-32 gap-3 rounded bg-paper p-3" aria-label={title}>
			{window}
			<div className="min-w-0">
				<h3 className="text-soft">{title}</h3>
				{children}
			</div>
		</section>
	);
}

function FlatWindow({
	side,
	piece,
	flat,
}: {
	side: Schemas["SideView"];
	piece: Schemas["PieceView"];
	flat: Flat;
}) {
	const at = flat.at as unknown as readonly [number, number];
	return (
		<Magnified
			side={side}
			pieces={[piece]}
			at={at}
			width={118}
			height={108}
			label={`Magnified: ${flat.to}, the tape reads ${flat.wanted.text}`}
		>
			{(frame) => {
				const top = px(frame, onDatum(piece.datum, flat.back_mm));
				const [x, y] = px(frame, at);
				return (
					<>
						<line x1={top[0]} y1={top[1]} x2={x} y2={y} stroke="var(--color-paper)" strokeWidth={6} />
						<line x1={top[0]} y1={top[1]} x2={x} y2={y} stroke="var(--color-measure)" strokeWidth={3} />
						<line x1={x - 20} y1={y} x2={x + 20} y2={y} stroke="var(--color-measure)" strokeWidth={4} />
					</>
				);
			}}
		</Magnified>
	);
}
