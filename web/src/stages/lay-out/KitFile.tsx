import { useRef, useState } from "react";
import { type Schemas, sendFile, told } from "../../api/client";
import { type Editing, useShop } from "../../api/queries";
import { Button, Choice, TroubleNote } from "../../ui/parts";
import { Swatch } from "../../ui/Swatch";

const UNITS = [
	{ value: "as_the_file_says", text: "as the file says" },
	{ value: "millimetre", text: "millimetres" },
	{ value: "centimetre", text: "centimetres" },
	{ value: "inch", text: "inches" },
	{ value: "foot", text: "feet" },
] as const;

type KitPiece = Schemas["KitPieceView"];

/** What a colour of the file is instead of film. */
const HOLE = "hole";
const OUT = "out";

/** How a file is read. */
type How = { unit: (typeof UNITS)[number]["value"]; whole: boolean; holes: readonly string[] };

/** A colour's own name in what was chosen: the file may give none. */
const ofColour = (drawn: string | null | undefined) => drawn ?? "";

/** A kit or a drawing from a file: which pieces are in it, and which film each of its colours is cut from. */
export function KitFile({
	side,
	editing,
	onAdded,
}: {
	side: Schemas["SideView"];
	editing: Editing;
	onAdded: (id: string) => void;
}) {
	const [how, setHow] = useState<How>({ unit: "as_the_file_says", whole: false, holes: [] });
	const [file, setFile] = useState<File | null>(null);
	const [kit, setKit] = useState<Schemas["KitView"] | null>(null);
	/** What somebody chose for a colour of the file: a film's colour, or that it is none. */
	const [chosen, setChosen] = useState<Record<string, string>>({});
	const [wrong, setWrong] = useState<string | null>(null);
	const [busy, setBusy] = useState(false);
	const newest = useRef(0);
	/** Reads the file; false where it cannot be read so. Then what was read of it before stands, with how that was read. */
	const read = async (from: File | null, as: How): Promise<boolean> => {
		const before = from === file && kit ? { kit, how } : { kit: null, how: as };
		setFile(from);
		setHow(as);
		if (!from) return false;
		const own = ++newest.current;
		setBusy(true);
		const query = new URLSearchParams({
			unit: as.unit,
			name: from.name.replace(/\.[^.]*$/, ""),
			whole: String(as.whole),
			holes: as.holes.join(),
		});
		const answer = await sendFile<Schemas["KitView"]>(`/api/sides/${side.id}/kit-file?${query}`, from).catch(
			(error: unknown) => error,
		);
		// An answer to what was asked before is of no use any more.
		if (own !== newest.current) return true;
		setBusy(false);
		const failed = answer instanceof Error;
		setKit(failed ? before.kit : (answer as Schemas["KitView"]));
		setHow(failed ? before.how : as);
		setWrong(failed ? told(answer) : null);
		return !failed;
	};

	const choose = async (drawn: string, what: string) => {
		const before = chosen;
		setChosen({ ...chosen, [drawn]: what });
		const holes = how.holes.filter((h) => h !== drawn);
		if (what === HOLE) holes.push(drawn);
		if (holes.join() === how.holes.join()) return;
		if (!(await read(file, { ...how, holes }))) setChosen(before);
	};

	const colourOf = (piece: KitPiece) => {
		const own = chosen[ofColour(piece.drawn)];
		return own && own !== HOLE ? own : "colour" in piece.piece.art ? piece.piece.art.colour : "";
	};
	/** Pieces keep the number that they have in the file. */
	const laid = (kit?.pieces ?? []).map((p, n) => ({ p, n })).filter(({ p }) => colourOf(p) !== OUT);

	const take = async () => {
		try {
			const first = await editing.addPieces(
				side.id,
				laid.map(({ p }) => ({ ...p.piece, art: { ...p.piece.art, colour: colourOf(p) } })),
			);
			onAdded(first.id);
		} catch (error) {
			setWrong(told(error));
		}
	};

	return (
		<div className="grid gap-3">
			<div className="grid gap-3 @lg:grid-cols-3">
				<label className="flex min-w-0 flex-col gap-1">
					<span className="text-soft">SVG or DXF file</span>
					<input
						type="file"
						accept=".svg,.dxf"
						onChange={(e) => {
							setChosen({});
							void read(e.target.files?.[0] ?? null, { ...how, holes: [] });
						}}
						className="h-11 rounded border border-soft bg-paper p-2"
					/>
				</label>
				<Choice
					label="One unit in the file is"
					value={how.unit}
					options={[...UNITS]}
					onChange={(unit) => void read(file, { ...how, unit })}
				/>
				<label className="flex h-11 items-center gap-3 self-end">
					<input
						type="checkbox"
						checked={how.whole}
						onChange={(e) => void read(file, { ...how, whole: e.target.checked })}
						className="h-6 w-6 accent-spruce"
					/>
					Everything is one piece
				</label>
			</div>
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
			{kit && (
				<>
					<KitPicture pieces={laid} all={kit.pieces} colourOf={colourOf} />
					<KitColours
						colours={kit.colours}
						chosen={chosen}
						onChoose={(drawn, what) => void choose(drawn, what)}
					/>
					<ul className="grid gap-1">
						{laid.map(({ p, n }) => (
							<li key={p.film}>
								<strong>{n + 1}</strong>{" "}
								<span className="font-reading">
									{p.size[0]} × {p.size[1]}
								</span>{" "}
								{p.cleaned.join(" ")}
							</li>
						))}
						{kit.not_used.map((sentence) => (
							<li key={sentence} className="text-soft">
								{sentence}
							</li>
						))}
					</ul>
					{laid.length > 0 ? (
						<Button look="next" onClick={take} disabled={busy} className="justify-self-start">
							{laid.length === 1 ? "Lay this piece out" : `Lay these ${laid.length} pieces out`}
						</Button>
					) : (
						<TroubleNote>Every colour is left out. Choose a film for one of them.</TroubleNote>
					)}
				</>
			)}
		</div>
	);
}

/** The pieces as they lie in the file, in the films that they are cut from, each with its number. */
function KitPicture({
	pieces,
	all,
	colourOf,
}: {
	pieces: { p: KitPiece; n: number }[];
	/** Those that are left out, too: the picture keeps its place. */
	all: KitPiece[];
	colourOf: (piece: KitPiece) => string;
}) {
	const bounds = all.map((p) => p.bounds as [number, number, number, number]);
	const left = Math.min(...bounds.map(([x]) => x));
	const top = Math.min(...bounds.map(([, y]) => y));
	const width = Math.max(...bounds.map(([x, , w]) => x + w)) - left;
	const height = Math.max(...bounds.map(([, y, , h]) => y + h)) - top;
	const size = Math.max(width, height) / 18;
	// What lies on another has its middle where that has its own: numbers stand below each other there.
	const numbers: { n: number; film: string; x: number; y: number }[] = [];
	for (const { p, n } of pieces) {
		const [x = 0, y = 0, w = 0, h = 0] = p.bounds;
		const at = { n, film: p.film, x: x + w / 2, y: y + h / 2 + size / 3 };
		const isTaken = () => numbers.some((o) => Math.abs(o.x - at.x) < size && Math.abs(o.y - at.y) < size);
		while (isTaken()) at.y += size;
		numbers.push(at);
	}
	return (
		<svg
			role="img"
			aria-label={`${pieces.length === 1 ? "1 piece" : `${pieces.length} pieces`} in the file`}
			viewBox={`${left} ${top} ${width} ${height}`}
			className="max-h-64 w-full rounded bg-paper p-2"
		>
			{pieces.map(({ p }) => (
				<path
					key={p.film}
					d={p.film}
					fill={colourOf(p)}
					fillRule="evenodd"
					stroke="var(--color-soft)"
					strokeWidth={size / 16}
				/>
			))}
			{numbers.map(({ n, film, x, y }) => (
				<text
					key={film}
					x={x}
					y={y}
					fontSize={size}
					fontWeight={700}
					textAnchor="middle"
					fill="var(--color-paper)"
					stroke="var(--color-ink)"
					strokeWidth={size / 8}
					paintOrder="stroke"
				>
					{n + 1}
				</text>
			))}
		</svg>
	);
}

/** Each colour of the file with the film that it is cut from, and why. */
function KitColours({
	colours,
	chosen,
	onChoose,
}: {
	colours: Schemas["KitColour"][];
	chosen: Record<string, string>;
	onChoose: (drawn: string, what: string) => void;
}) {
	const films = useShop().data?.film_colours ?? [];
	return (
		<ul className="grid grid-cols-[minmax(0,1fr)] gap-2 @lg:grid-cols-2" aria-label="Colours of the file">
			{colours.map((c) => {
				const drawn = ofColour(c.drawn);
				const value = chosen[drawn] ?? c.colour ?? HOLE;
				const known = films.some((f) => f.value === value);
				const options = [
					...films.map((f) => ({ value: f.value, text: f.name })),
					...(c.drawn && !films.some((f) => f.value === c.drawn)
						? [{ value: c.drawn, text: `as it is drawn, ${c.drawn}` }]
						: []),
					...(c.drawn ? [{ value: HOLE, text: "no film: cut out of what it lies on" }] : []),
					{ value: OUT, text: "left out" },
				];
				return (
					<li key={drawn} className="flex min-w-0 items-start gap-3 rounded border border-line p-2">
						{c.drawn && <Swatch colour={c.drawn} />}
						<div className="min-w-0 grow">
							<Choice
								label={`${c.drawn ? `Drawn ${c.drawn}` : "Drawn in no one colour"}${
									c.pieces > 0 ? `, ${c.pieces === 1 ? "1 piece" : `${c.pieces} pieces`}` : ""
								}: cut from`}
								value={value}
								options={options}
								onChange={(what) => onChoose(drawn, what)}
							/>
							{value === (c.colour ?? HOLE) && <p className="mt-1 first-letter:uppercase">{c.sentence}</p>}
						</div>
						{(known || value === c.drawn) && <Swatch colour={value} />}
					</li>
				);
			})}
		</ul>
	);
}
