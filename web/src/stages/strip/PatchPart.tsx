import { useEffect, useState } from "react";
import { type Schemas, told } from "../../api/client";
import { clock } from "../../job/clock";
import { kept } from "../../job/Floor";
import { PhotoButton } from "../../job/PhotoButton";
import { useNow } from "../../job/useNow";
import { useOnePress } from "../../job/useOnePress";
import { usePhoto } from "../../job/usePhoto";
import { shopNow, useKeptAt } from "../../offline/signal";
import { Button, Choice, Sheet } from "../../ui/parts";

type Old = Schemas["OldView"];

/** A patch as it is timed, kept on this machine: since when film and adhesive were worked at, what each took, and the shop's entry of its beginning. */
type Running = {
	film?: number;
	filmTook?: number;
	adhesive?: number;
	adhesiveTook?: number;
	entry?: string;
};

/** An amount as the shop counts it, to two places. */
const shown = (amount: number, old: Old) => String(Math.round(amount * old.to_one * 100) / 100);

/** A timed test patch: start, film off, clean. It tells more than any table. */
export function PatchPart({
	job,
	old,
	view,
	record,
	onWrong,
}: {
	job: string;
	old: Old;
	view: Schemas["OldFilmView"];
	record: (entry: Schemas["StripEntry"]) => Promise<boolean>;
	onWrong: (sentence: string | null) => void;
}) {
	const key = `strip.patch.${old.id}`;
	const [own, setRun] = useState<Running>(() => {
		try {
			return JSON.parse(kept.get(key) ?? "{}") as Running;
		} catch {
			return {};
		}
	});
	// One that somebody began on another device runs here too.
	const other = Object.keys(own).length === 0 ? (old.running ?? null) : null;
	const run: Running = other ? { film: Date.parse(other.since) } : own;
	const [standsFor, setStandsFor] = useState<Schemas["PatchAs"]>(
		old.patches.length === 0 ? "worst" : "typical",
	);
	const [left, setLeft] = useState<Schemas["Left"]>("smear");
	const [ghost, setGhost] = useState(false);
	const [amount, setAmount] = useState(shown(Math.min(old.patch, old.amount), old));
	const [photo, setPhoto] = useState<File | null>(null);
	const [striking, setStriking] = useState<string | null>(null);
	const [why, setWhy] = useState("");
	const keepPhoto = usePhoto(job);
	const running = (run.film && !run.filmTook) || (run.adhesive && !run.adhesiveTook);
	const now = useNow(Boolean(running)) + (shopNow() - Date.now());
	const pressed = useOnePress();
	/** A trembling hand presses once: film off is not the start of its adhesive. */
	const press = (next: Running) => {
		if (pressed()) change(next);
	};
	const change = (next: Running) => {
		setRun(next);
		kept.set(key, Object.keys(next).length === 0 ? null : JSON.stringify(next));
	};
	const took = (since: number) => Math.max(1, Math.round((shopNow() - since) / 1000));
	const begin = () => {
		if (!pressed()) return;
		change({ film: shopNow() });
		const one = Number(amount.replace(",", ".")) / old.to_one;
		// What is no amount is told when the patch is kept; the watch runs all the same.
		if (one > 0) void record({ what: "patch_began", old: old.id, stands_for: standsFor, amount: one });
	};
	// What was begun here and is kept or given up on another device has ended here too; without a signal nobody knows.
	const known = old.running?.id;
	const reached = useKeptAt() === null;
	useEffect(() => {
		if (Object.keys(own).length === 0 || !reached || known === own.entry) return;
		const next = known ? { ...own, entry: known } : {};
		setRun(next);
		kept.set(key, known ? JSON.stringify(next) : null);
	}, [own, known, reached, key]);
	const drop = () => {
		if (!pressed()) return;
		change({});
		if (old.running) void record({ what: "patch_dropped", old: old.id });
	};
	const typedTime = (text: string) => {
		const [, m, s] = /^(\d{1,3}):([0-5]?\d)$/.exec(text.trim()) ?? [];
		return m === undefined ? Number(text.replace(",", ".")) * 60 : Number(m) * 60 + Number(s);
	};
	const keep = async () => {
		try {
			const key = photo ? await keepPhoto(photo) : null;
			const done = await record({
				what: "patch",
				old: old.id,
				stands_for: standsFor,
				amount: Number(amount.replace(",", ".")) / old.to_one,
				film_seconds: run.filmTook ?? 0,
				adhesive_seconds: run.adhesiveTook ?? null,
				left,
				ghost,
				photo: key,
			});
			if (!done) return;
			change({});
			setPhoto(null);
			setGhost(false);
			setStandsFor("typical");
		} catch (error) {
			onWrong(told(error));
		}
	};
	const big = "min-h-20 px-6 text-2xl font-bold w-full";
	return (
		<div className="grid grid-cols-[minmax(0,1fr)] gap-3 @4xl:grid-cols-2">
			<form
				aria-label="Test patch"
				className="flex flex-col gap-3 rounded bg-paper p-4"
				onSubmit={(e) => {
					e.preventDefault();
					void keep();
				}}
			>
				{other ? (
					<p className="text-xl">
						<b>
							{view.stands_for.find((f) => f.value === other.stands_for)?.name}, {shown(other.amount, old)}{" "}
							{old.unit_many}
						</b>
						. {other.by} began it.
					</p>
				) : (
					<div className="grid grid-cols-2 gap-2">
						<Choice
							label="Where"
							value={standsFor}
							options={view.stands_for.map((s) => ({ value: s.value, text: s.name }))}
							onChange={setStandsFor}
						/>
						<label className="flex min-w-0 flex-col gap-1 text-soft">
							How much, {old.unit_many}
							<input
								value={amount}
								inputMode="decimal"
								onChange={(e) => setAmount(e.target.value)}
								className="h-11 min-w-0 rounded border border-soft bg-sheet px-3 font-bold font-reading text-ink"
							/>
						</label>
					</div>
				)}
				{!run.film && !run.filmTook && (
					<Button className={big} onClick={begin}>
						Start on the film
					</Button>
				)}
				{run.film && !run.filmTook && (
					<>
						<p className="text-center font-bold font-reading text-5xl" role="timer">
							{clock((now - run.film) / 1000)}
						</p>
						<Button
							className={big}
							onClick={() => {
								// What was begun elsewhere is kept as it was said there.
								if (other) {
									setStandsFor(other.stands_for);
									setAmount(shown(other.amount, old));
								}
								press({ ...run, filmTook: took(run.film ?? 0) });
							}}
						>
							Film is off
						</Button>
						<Button className="min-h-16" onClick={drop}>
							Not this one
						</Button>
					</>
				)}
				{run.filmTook && (
					<div className="grid grid-cols-2 gap-2">
						<TimeField
							label="Film took"
							seconds={run.filmTook}
							onSeconds={(s) => change({ ...run, filmTook: s })}
							read={typedTime}
						/>
						{run.adhesiveTook && (
							<TimeField
								label="Adhesive took"
								seconds={run.adhesiveTook}
								onSeconds={(s) => change({ ...run, adhesiveTook: s })}
								read={typedTime}
							/>
						)}
					</div>
				)}
				{run.filmTook && !run.adhesive && !run.adhesiveTook && (
					<Button className="min-h-16" onClick={() => press({ ...run, adhesive: shopNow() })}>
						Start on its adhesive
					</Button>
				)}
				{run.adhesive && !run.adhesiveTook && (
					<>
						<p className="text-center font-bold font-reading text-5xl" role="timer">
							{clock((now - run.adhesive) / 1000)}
						</p>
						<Button className={big} onClick={() => press({ ...run, adhesiveTook: took(run.adhesive ?? 0) })}>
							Clean
						</Button>
					</>
				)}
				{run.filmTook && !(run.adhesive && !run.adhesiveTook) && (
					<>
						<Choice
							label="What the film left behind"
							value={left}
							options={view.left.map((l) => ({ value: l.value, text: l.name }))}
							onChange={setLeft}
						/>
						<label className="flex min-h-14 items-center gap-3">
							<input
								type="checkbox"
								checked={ghost}
								onChange={(e) => setGhost(e.target.checked)}
								className="size-7"
							/>
							A ghost is left
						</label>
						<PhotoButton label={photo ? `Photo: ${photo.name}` : "Photo of it"} onPhoto={setPhoto} />
						<div className="flex flex-wrap gap-2">
							<Button className="min-h-16" onClick={drop}>
								Not this one
							</Button>
							<Button type="submit" look="next" className="min-h-16 grow">
								Keep the patch
							</Button>
						</div>
					</>
				)}
				{!run.film && !run.filmTook && (
					<Button className="min-h-14" onClick={() => change({ filmTook: 60 })}>
						It was timed by another watch
					</Button>
				)}
			</form>
			<section aria-label="Patches" className="rounded bg-paper p-4">
				<h3 className="font-bold text-xl">Patches on {old.graphic.name}</h3>
				{old.patches.length === 0 && (
					<p>None yet. One in the worst place, one as most of it is, one in an easy place say most.</p>
				)}
				<ul className="flex flex-col divide-y divide-line">
					{old.patches.map((p) => (
						<li key={p.id} className="flex flex-wrap items-center gap-3 py-2">
							<span className="min-w-0 grow basis-48">
								<span className="inline-block first-letter:uppercase">{p.says}</span>
								<span className="block text-soft">{p.by}</span>
							</span>
							{p.photo && (
								<a href={`/api/photos/${p.photo}`} target="_blank" rel="noreferrer">
									<img src={`/api/photos/${p.photo}?small=true`} alt="The patch" className="h-14 rounded" />
								</a>
							)}
							<Button onClick={() => setStriking(p.id)}>Strike</Button>
						</li>
					))}
				</ul>
			</section>
			<Sheet open={striking !== null} onOpenChange={(o) => !o && setStriking(null)} title="Strike the patch">
				<form
					className="flex flex-col gap-3"
					onSubmit={async (e) => {
						e.preventDefault();
						if (striking && (await record({ what: "patch_struck", patch: striking, note: why }))) {
							setStriking(null);
							setWhy("");
						}
					}}
				>
					<label className="flex flex-col gap-1">
						Why does it not count? Both stay in the record.
						<input
							value={why}
							maxLength={300}
							onChange={(e) => setWhy(e.target.value)}
							className="h-14 rounded border border-soft bg-paper px-3"
						/>
					</label>
					<Button type="submit" look="trouble" disabled={why.trim() === ""} className="min-h-16">
						Strike it
					</Button>
				</form>
			</Sheet>
		</div>
	);
}

/** A time that was taken, to be corrected where another watch knows better: 2:30, or minutes. */
function TimeField({
	label,
	seconds,
	onSeconds,
	read,
}: {
	label: string;
	seconds: number;
	onSeconds: (s: number) => void;
	read: (text: string) => number;
}) {
	const [text, setText] = useState(clock(seconds));
	return (
		<label className="flex min-w-0 flex-col gap-1 text-soft">
			{label}, min:s
			<input
				value={text}
				onChange={(e) => {
					setText(e.target.value);
					const s = read(e.target.value);
					// What is no time is told when it is kept; what was measured stays until then.
					onSeconds(Number.isFinite(s) && s > 0 ? Math.round(s) : 0.1);
				}}
				className="h-14 min-w-0 rounded border border-soft bg-sheet px-3 font-bold font-reading text-2xl text-ink"
			/>
		</label>
	);
}
