import { useEffect, useState } from "react";
import type { Schemas } from "../../api/client";
import type { Point } from "../../drawing/frame";
import { readPlumb } from "../../drawing/readPlumb";
import { Button, Choice, Sheet } from "../../ui/parts";
import { Earlier } from "./Earlier";

type Graphic = Schemas["OldGraphic"];
type Old = Schemas["OldView"];

const FIELD = "h-14 min-w-0 rounded border border-soft bg-sheet px-3 font-bold";

/** What old film is on the side: what, how old, how it faced the weather, what lies under it, how a cold corner behaved. */
export function OldForm({
	job,
	side,
	view,
	old,
	traced,
	record,
	onDone,
}: {
	job: string;
	side: Schemas["SideView"];
	view: Schemas["OldFilmView"];
	/** Nothing for a new one. */
	old: Old | undefined;
	/** Corners that were touched in the picture: one, or two opposite ones. */
	traced: readonly Point[];
	record: (entry: Schemas["StripEntry"]) => Promise<boolean>;
	onDone: () => void;
}) {
	const g = old?.graphic;
	const shown = (mm: unknown) => (mm === undefined ? "" : `${Math.round(Number(mm))} mm`);
	const inches = (mm: unknown) => (mm === undefined ? "" : String(Math.round((Number(mm) / 25.4) * 16) / 16));
	const length = view.unit === "millimetre" ? shown : inches;
	const [text, setText] = useState({
		name: g?.name ?? "",
		age: g ? String(g.age_years) : "",
		back: length(g?.back_mm),
		drop: length(g?.drop_mm),
		width: length(g?.width_mm),
		height: length(g?.height_mm),
		letters: g?.letters ? String(g.letters) : "",
		own: g?.own_minutes ? String(Math.round((g.own_minutes / (old?.to_one ?? 1)) * 100) / 100) : "",
	});
	const [first, second] = traced;
	useEffect(() => {
		if (!first) return;
		const read = (p: Point) => {
			const { back, drop } = readPlumb(side.drawing, p);
			return [Number.parseFloat(back), Number.parseFloat(drop)] as const;
		};
		const [b0, d0] = read(first);
		const [b1, d1] = second ? read(second) : [b0, d0];
		const mm = (n: number) => `${Math.round(n)} mm`;
		setText((t) => ({
			...t,
			back: mm(Math.min(b0, b1)),
			drop: mm(Math.min(d0, d1)),
			...(second ? { width: mm(Math.abs(b1 - b0)), height: mm(Math.abs(d1 - d0)) } : {}),
		}));
	}, [first, second, side.drawing]);
	const ghosts = old ? [] : view.ghosts.filter((ghost) => ghost.side === side.id);
	const [kind, setKind] = useState<Schemas["OldKind"]>(g?.kind ?? "cut_lettering");
	const [faced, setFaced] = useState<Schemas["Faced"]>(g?.faced ?? "shade");
	const [corner, setCorner] = useState<Schemas["ColdCorner"]>(g?.cold_corner ?? "not_tried");
	const [under, setUnder] = useState<Schemas["Material"] | "side">(g?.under ?? "side");
	const [unknown, setUnknown] = useState(g?.unknown_paint ?? false);
	const [gone, setGone] = useState(false);
	const [why, setWhy] = useState("");
	const set = (key: keyof typeof text) => (e: { target: { value: string } }) =>
		setText((t) => ({ ...t, [key]: e.target.value }));
	const number = (t: string) => (t.trim() === "" ? Number.NaN : Number(t.replace(",", ".")));
	/** So many as the shop counts are one letter, metre or square metre of what is said. */
	const perOne = () => {
		if (view.unit === "millimetre" || (kind === "cut_lettering" && text.letters.trim() !== "")) return 1;
		const feet = 1000 / 304.8;
		return kind === "stripe" || kind === "prismatic_strip" ? feet : feet * feet;
	};
	const keep = async () => {
		const graphic = {
			side: side.id,
			piece: g?.piece ?? null,
			name: text.name,
			kind,
			age_years: Number.isFinite(number(text.age)) ? number(text.age) : -1,
			faced,
			under: under === "side" ? null : under,
			unknown_paint: unknown,
			cold_corner: corner,
			back_mm: text.back as unknown as number,
			drop_mm: text.drop as unknown as number,
			width_mm: text.width as unknown as number,
			height_mm: text.height as unknown as number,
			letters:
				kind === "cut_lettering" && text.letters.trim() !== ""
					? Math.max(0, Math.round(number(text.letters)) || 0)
					: null,
			own_minutes: text.own.trim() === "" ? null : (number(text.own) || 0) * perOne(),
		} as Graphic;
		const done = await record(
			old ? { what: "changed", old: old.id, graphic } : { what: "found", ...graphic },
		);
		if (done) onDone();
	};
	const field = (key: keyof typeof text, label: string, hint?: string) => (
		<label className="flex min-w-0 flex-col gap-1 text-soft">
			{label}
			<input value={text[key]} onChange={set(key)} placeholder={hint} className={`${FIELD} text-ink`} />
		</label>
	);
	return (
		<form
			aria-label={old ? "What it is" : "New old film"}
			className="grid grid-cols-[minmax(0,1fr)] gap-3 rounded bg-paper p-4 @2xl:grid-cols-2"
			onSubmit={(e) => {
				e.preventDefault();
				void keep();
			}}
		>
			{!old && (
				<div className="flex flex-wrap items-center gap-2 @2xl:col-span-2">
					<p>Touch two opposite corners of it in the picture, or type where it is.</p>
					<Earlier job={job} side={side.id} record={record} onDone={onDone} />
					{ghosts.map((ghost) => (
						<Button
							key={ghost.says + ghost.back}
							className="min-h-14"
							onClick={() =>
								setText((t) => ({
									...t,
									name: t.name || "ghost",
									back: ghost.back,
									drop: ghost.drop,
									width: ghost.size,
								}))
							}
						>
							Where the walk round noted: {ghost.says}
						</Button>
					))}
				</div>
			)}
			{field("name", "What it is called", "the old name")}
			<Choice
				label="What it is"
				value={kind}
				options={view.kinds.map((k) => ({ value: k.value, text: k.name }))}
				onChange={setKind}
			/>
			<div className="grid grid-cols-2 gap-2">
				{field("back", "Front edge, back")}
				{field("drop", "Top, down from the rail")}
				{field("width", "Long")}
				{field("height", "High")}
			</div>
			<div className="grid grid-cols-2 gap-2">
				{field("age", "Years on it")}
				{kind === "cut_lettering" ? field("letters", "Letters", "none: by area") : <span />}
				<Choice
					label="Faced"
					value={faced}
					options={view.faced.map((f) => ({ value: f.value, text: f.name }))}
					onChange={setFaced}
				/>
				<Choice
					label="A cold corner"
					value={corner}
					options={view.corners.map((c) => ({ value: c.value, text: c.name }))}
					onChange={setCorner}
				/>
			</div>
			<Choice
				label="Under it"
				value={under}
				options={[
					{ value: "side", text: "what the side is made of" },
					...view.materials.map((m) => ({ value: m.value, text: m.name })),
				]}
				onChange={setUnder}
			/>
			{field(
				"own",
				view.unit === "millimetre"
					? "This shop’s minutes for each letter, metre or m²"
					: "This shop’s minutes for each letter, foot or square foot",
				"Windrift’s own",
			)}
			<label className="flex min-h-14 items-center gap-3">
				<input
					type="checkbox"
					checked={unknown}
					onChange={(e) => setUnknown(e.target.checked)}
					className="size-7"
				/>
				The paint under it is old or unknown
			</label>
			<div className="flex flex-wrap justify-end gap-2">
				{old && (
					<Button className="min-h-16" onClick={() => setGone(true)}>
						It is not there
					</Button>
				)}
				<Button type="submit" look={old ? "plain" : "next"} className="min-h-16 grow">
					{old ? "So it is" : "It is on it"}
				</Button>
			</div>
			<Sheet open={gone} onOpenChange={setGone} title="It is not there">
				<div className="flex flex-col gap-3">
					<label className="flex flex-col gap-1">
						Why? Both stay in the record.
						<input
							value={why}
							maxLength={300}
							onChange={(e) => setWhy(e.target.value)}
							className="h-14 rounded border border-soft bg-paper px-3"
						/>
					</label>
					<Button
						look="trouble"
						disabled={why.trim() === ""}
						className="min-h-16"
						onClick={async () => {
							if (old && (await record({ what: "gone", old: old.id, note: why }))) setGone(false);
						}}
					>
						Strike it from the list
					</Button>
				</div>
			</Sheet>
		</form>
	);
}
