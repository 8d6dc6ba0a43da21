import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client, type Schemas, sendFile, told } from "../../api/client";
import { useWidth } from "../../drawing/frame";
import { FileButton } from "../../ui/FileButton";
import { Button, NextMove, TroubleNote, Waiting } from "../../ui/parts";
import { Swatch } from "../../ui/Swatch";
import { BackToYard } from "../BackToYard";
import { CutFigures } from "./CutFigures";
import { FilmSheet } from "./FilmSheet";
import { MeasureRoll } from "./MeasureRoll";
import { NewFilm } from "./NewFilm";
import { NewRoll } from "./NewRoll";
import { Supplies } from "./Supplies";
import type { Film, Roll, Send } from "./sending";

type Open =
	| { what: "figures" }
	| { what: "film" }
	| { what: "sheet" | "roll"; film: Film }
	| { what: "measure"; film: Film; roll: Roll };

/** Films with their rolls, each as long as it is, all to one scale. */
export function Shelf() {
	const cache = useQueryClient();
	const shelf = useQuery({ queryKey: ["shelf"], queryFn: () => ask(client.GET("/api/shelf")) });
	const [open, setOpen] = useState<Open | null>(null);
	const [wrong, setWrong] = useState<string | null>(null);
	const [ref, width] = useWidth();
	const send: Send = async (call) => {
		const now = await call;
		cache.setQueryData(["shelf"], now);
		await cache.invalidateQueries({ queryKey: ["film"] });
		// The colours that film comes in here.
		await cache.invalidateQueries({ queryKey: ["shop"] });
		setWrong(null);
	};
	const tell = (call: Promise<void>) => call.catch((error) => setWrong(told(error)));
	const data = shelf.data;
	const scale = Math.max(width - 8, 200) / Math.max(data?.longest_mm ?? 0, 9144);
	const low = data?.films.flatMap((f) => f.rolls.filter((r) => r.nearly_empty).map((r) => ({ f, r }))) ?? [];
	// Only the sheet that is done is closed: the answer to a second press comes when another one may be open already.
	const done = () => setOpen((now) => (now === open ? null : now));
	return (
		<div className="flex min-h-screen min-w-0 flex-col">
			<BackToYard />
			<main className="flex min-w-0 grow flex-col gap-3 px-6 pb-4">
				<div className="flex flex-wrap items-center gap-2">
					<h1 className="mr-auto font-bold text-2xl">
						Shelf{" "}
						<span className="font-normal text-lg text-soft">
							every roll as long as it is, all to one scale
						</span>
					</h1>
					<Button onClick={() => setOpen({ what: "figures" })}>The shop’s figures</Button>
					<a
						href="/api/shelf.csv"
						className="flex min-h-11 items-center rounded border border-soft bg-paper px-4"
					>
						As a table (CSV)
					</a>
					<FileButton
						accept=".csv,text/csv"
						onFile={(file) => void tell(send(sendFile<Schemas["ShelfView"]>("/api/shelf.csv", file)))}
					>
						Read a table (CSV)
					</FileButton>
				</div>
				{wrong && <TroubleNote>{wrong}</TroubleNote>}
				<div ref={ref} />
				{!data && <Waiting what="the shelf" error={shelf.error} />}
				{data?.films.length === 0 && (
					<p className="my-8 text-xl">
						The shelf is empty. Put the films there that you work with, and their rolls.
					</p>
				)}
				<ul className="grid gap-4">
					{data?.films.map((f) => (
						<li key={f.id} aria-label={f.film.name}>
							<div className="flex flex-wrap items-center gap-3">
								<Swatch colour={f.film.colour} />
								<div className="mr-auto min-w-0">
									<h2 className="font-bold text-xl leading-tight">{f.film.name}</h2>
									<p className="text-soft">
										{f.class_name}; {f.left.text} in all
									</p>
								</div>
								<Button onClick={() => setOpen({ what: "sheet", film: f })}>Data sheet</Button>
								<Button onClick={() => setOpen({ what: "roll", film: f })}>Add a roll</Button>
							</div>
							<ul className="mt-1 grid gap-2">
								{f.rolls.map((r) => (
									<li key={r.id}>
										<button
											type="button"
											onClick={() => setOpen({ what: "measure", film: f, roll: r })}
											aria-label={`${r.roll.offcut ? "Offcut" : "Roll"}, lot ${r.roll.lot}, ${r.left.text} left`}
											className="block min-h-11 w-full min-w-0 text-left"
										>
											<span className="block">
												<b>
													{r.roll.offcut ? "offcut, " : ""}lot {r.roll.lot}
												</b>
												{r.roll.place && `, ${r.roll.place}`}: {r.width.text} wide,{" "}
												<b className="font-reading">{r.left.text}</b> left
												{r.nearly_empty && <b className="text-trouble"> ! nearly empty</b>}
											</span>
											<Bar roll={r} scale={scale} colour={f.film.colour} />
										</button>
									</li>
								))}
								{f.rolls.length === 0 && <li className="text-soft">No roll of it is here.</li>}
							</ul>
						</li>
					))}
				</ul>
				<Supplies />
			</main>
			<NextMove
				sentence={
					low[0]
						? `${low[0].f.film.name}, lot ${low[0].r.roll.lot}, is nearly empty: ${low[0].r.left.text}.`
						: data?.films.length === 0
							? "Put the first film on the shelf."
							: "Put a film on the shelf, or choose a roll to measure it."
				}
				detail={
					low.length > 2 ? `So are ${low.length - 1} more.` : low.length > 1 ? "So is one more." : undefined
				}
			>
				<Button look="next" onClick={() => setOpen({ what: "film" })}>
					Add a film
				</Button>
			</NextMove>
			{open?.what === "figures" && <CutFigures onDone={done} />}
			{open?.what === "film" && <NewFilm classes={data?.classes ?? []} send={send} onDone={done} />}
			{open?.what === "sheet" && (
				<FilmSheet
					key={open.film.id}
					film={open.film}
					printed={data?.classes.find((c) => c.class === open.film.film.class)?.printable ?? false}
					send={send}
					onDone={done}
				/>
			)}
			{open?.what === "roll" && <NewRoll film={open.film} send={send} onDone={done} />}
			{open?.what === "measure" && (
				<MeasureRoll key={open.roll.id} film={open.film} roll={open.roll} send={send} onDone={done} />
			)}
		</div>
	);
}

/** A roll: what is left filled, what was used up outlined. */
function Bar({ roll, scale, colour }: { roll: Roll; scale: number; colour: string }) {
	const whole = Math.max(roll.length.mm, roll.left.mm) * scale;
	// Wide rolls are higher bars.
	const high = Math.max(10, Math.min(34, roll.width.mm / 40));
	return (
		<svg width={Math.max(whole, 6) + 4} height={high + 4} aria-hidden className="block max-w-full">
			<rect
				x={1}
				y={1}
				width={Math.max(whole, 6)}
				height={high}
				fill="none"
				stroke="var(--color-soft)"
				strokeDasharray="4 4"
			/>
			<rect
				x={1}
				y={1}
				width={Math.max(roll.left.mm * scale, 3)}
				height={high}
				fill={colour}
				stroke="var(--color-ink)"
			/>
		</svg>
	);
}
