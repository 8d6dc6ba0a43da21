import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import { ask, client, type Schemas, told } from "../../api/client";
import { stagePath } from "../../job/stages";
import { Button, NextMove, Sheet, TroubleNote, Waiting } from "../../ui/parts";
import { BackToYard } from "../BackToYard";
import { away, YEAR } from "./away";

type Vehicle = Schemas["RemovalView"];
/** The tape is never shorter than so many years. */
const FEWEST_YEARS = 2;

/** By when film comes off, all vehicles along one tape of years, the first day first. */
export function ComesOff() {
	const cache = useQueryClient();
	const found = useQuery({ queryKey: ["jobs", "removals"], queryFn: () => ask(client.GET("/api/removals")) });
	const [off, setOff] = useState<Vehicle | null>(null);
	const [wrong, setWrong] = useState<string | null>(null);
	const more = found.data?.open ?? false;
	useEffect(() => {
		// A shop that is new to the list has it filled some jobs at a time.
		if (more) void cache.invalidateQueries({ queryKey: ["jobs", "removals"] });
	}, [more, cache]);
	const list = found.data?.list ?? [];
	const years = Math.max(FEWEST_YEARS, Math.ceil(Math.max(0, ...list.map((v) => v.days)) / YEAR));
	const late = list.filter((v) => v.days < 0).length;
	const now = new Date().getFullYear();
	const done = async () => {
		if (!off) return;
		try {
			await ask(client.POST("/api/jobs/{id}/film-off", { params: { path: { id: off.job } } }));
			setWrong(null);
		} catch (error) {
			setWrong(told(error));
		}
		setOff(null);
		await cache.invalidateQueries({ queryKey: ["jobs", "removals"] });
	};
	return (
		<div className="flex min-h-screen min-w-0 flex-col">
			<BackToYard />
			<main className="flex min-w-0 grow flex-col gap-3 px-6 pb-4">
				<h1 className="font-bold text-2xl">
					Comes off by{" "}
					<span className="font-normal text-lg text-soft">all vehicles along one tape of years</span>
				</h1>
				{wrong && <TroubleNote>{wrong}</TroubleNote>}
				{!found.data && <Waiting what="the list" error={found.error} />}
				{found.data && list.length === 0 && !more && (
					<p className="my-10 text-xl">
						No film lies yet whose life is known. A vehicle comes into the list once its film lies.
					</p>
				)}
				{list.length > 0 && (
					<ol className="flex flex-col gap-3">
						{list.map((v) => (
							<li key={v.job} className="rounded bg-paper p-3">
								<div className="flex flex-wrap items-baseline gap-x-4 gap-y-1">
									<b className={`font-reading text-2xl ${v.days < 0 ? "text-trouble" : ""}`}>
										{v.days < 0 ? "! " : ""}
										{v.day}
									</b>
									<Link to={stagePath(v.job, "hand_over")} className="font-bold text-lg underline">
										{v.title}
									</Link>
									<span className="text-soft">{v.customer}</span>
									<span className="ml-auto">{away(v.days)}</span>
								</div>
								<svg
									viewBox={`0 0 ${years * 100} 22`}
									preserveAspectRatio="none"
									className="mt-2 block h-5 w-full"
									aria-hidden
								>
									<rect width={years * 100} height={22} fill="var(--color-sheet)" />
									<rect
										width={Math.max(0, (v.days / YEAR) * 100)}
										height={22}
										fill={v.days < 183 ? "var(--color-tape-deep)" : "var(--color-good-soft)"}
									/>
									{Array.from({ length: years - 1 }, (_, n) => (
										<rect
											key={now + n}
											x={(n + 1) * 100 - 0.5}
											width={1}
											height={22}
											fill="var(--color-soft)"
										/>
									))}
								</svg>
								<div className="mt-2 flex flex-wrap items-center gap-3">
									<p className="min-w-0 grow basis-60">{v.why}</p>
									<Button onClick={() => setOff(v)}>It is off</Button>
								</div>
							</li>
						))}
					</ol>
				)}
			</main>
			<NextMove
				sentence={
					late > 0
						? `${late === 1 ? "One vehicle is" : `${late} vehicles are`} past its day.`
						: list[0]
							? `${list[0].title} is the next: ${list[0].day}.`
							: "Nothing comes off yet."
				}
				detail={
					list[0] ? "A line of the tape is a year from now. Ring its owner before film breaks up." : undefined
				}
				alarm={late > 0}
			/>
			<Sheet
				open={off !== null}
				onOpenChange={() => setOff(null)}
				title={`${off?.title ?? ""}: its film is off?`}
			>
				<p>It leaves this list, until film is laid on it again. Its record stays as it is.</p>
				<div className="mt-4 flex justify-end gap-3">
					<Button onClick={() => setOff(null)}>Not yet</Button>
					<Button look="next" onClick={() => void done()}>
						It is off
					</Button>
				</div>
			</Sheet>
		</div>
	);
}
