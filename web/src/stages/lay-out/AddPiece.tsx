import { DropdownMenu } from "radix-ui";
import { useId, useState } from "react";
import { ask, client, type Schemas, sendFile, told } from "../../api/client";
import type { Editing } from "../../api/queries";
import { Button, Choice, Sheet, TroubleNote } from "../../ui/parts";
import { addFirst, type Spec } from "./pieces";
import { StripeRun } from "./StripeRun";

const MARKS = {
	boat_number: { name: "Small-craft number", words: "OY 4471 KB", hint: "Letters, number, letters." },
	vessel_name: {
		name: "Vessel name and hailing port",
		words: "SALT MEADOW\nTERNHAVEN XY",
		hint: "The name on the first line, place and state on the second.",
	},
	carrier_mark: {
		name: "Carrier name and number",
		words: "HARBOUR BAY FREIGHT\nUSDOT 0000000",
		hint: "The name, then USDOT and the number.",
	},
} as const;
type Mark = keyof typeof MARKS;

/** Adds a piece of any kind to a side. */
export function AddPiece({
	side,
	editing,
	onAdded,
	guard,
}: {
	side: Schemas["SideView"];
	editing: Editing;
	onAdded: (id: string) => void;
	guard: (work: () => Promise<unknown>) => Promise<void>;
}) {
	const [kit, setKit] = useState(false);
	const [run, setRun] = useState(false);
	const [mark, setMark] = useState<Mark | null>(null);
	const add = (kind: Schemas["FirstKind"]) =>
		guard(async () => onAdded((await addFirst(side.id, kind, editing)).id));
	return (
		<>
			<Button onClick={() => add("lettering")}>Add lettering</Button>
			<DropdownMenu.Root>
				<DropdownMenu.Trigger asChild>
					<Button>Add something else ▾</Button>
				</DropdownMenu.Trigger>
				<DropdownMenu.Portal>
					<DropdownMenu.Content
						align="start"
						className="z-50 grid min-w-64 rounded border border-soft bg-paper p-1 shadow-lg"
					>
						<Item onSelect={() => add("stripe")}>A stripe</Item>
						<Item onSelect={() => setRun(true)}>A stripe over several parts</Item>
						<Item onSelect={() => add("section")}>A section between film that stays</Item>
						<Item onSelect={() => add("panel")}>A printed panel</Item>
						<Item onSelect={() => setKit(true)}>A kit or drawing from a file</Item>
						{(Object.keys(MARKS) as Mark[]).map((m) => (
							<Item key={m} onSelect={() => setMark(m)}>
								{MARKS[m].name}
							</Item>
						))}
					</DropdownMenu.Content>
				</DropdownMenu.Portal>
			</DropdownMenu.Root>
			<Sheet open={run} onOpenChange={setRun} title="A stripe over several parts">
				<StripeRun side={side} editing={editing} onLaid={() => setRun(false)} />
			</Sheet>
			<Sheet open={kit} onOpenChange={setKit} title="A kit or drawing from a file" wide>
				<KitFile
					side={side}
					editing={editing}
					onAdded={(id) => {
						setKit(false);
						onAdded(id);
					}}
				/>
			</Sheet>
			<Sheet
				open={mark !== null}
				onOpenChange={(open) => !open && setMark(null)}
				title={mark ? MARKS[mark].name : ""}
			>
				{mark && (
					<RegulatedMark
						key={mark}
						side={side}
						mark={mark}
						onMade={async (spec) => {
							const row = await editing.add("piece", side.id, spec);
							setMark(null);
							onAdded(row.id);
						}}
					/>
				)}
			</Sheet>
		</>
	);
}

const Item = ({ children, onSelect }: { children: string; onSelect: () => void }) => (
	<DropdownMenu.Item
		onSelect={onSelect}
		className="flex min-h-11 cursor-pointer items-center rounded px-3 data-[highlighted]:bg-tape"
	>
		{children}
	</DropdownMenu.Item>
);

function RegulatedMark({
	side,
	mark,
	onMade,
}: {
	side: Schemas["SideView"];
	mark: Mark;
	onMade: (spec: Spec) => Promise<void>;
}) {
	const id = useId();
	const [words, setWords] = useState("");
	const [wrong, setWrong] = useState<string | null>(null);
	const make = async () => {
		try {
			const spec = await ask(
				client.POST("/api/sides/{id}/regulated", {
					params: { path: { id: side.id } },
					body: { regulation: mark, words },
				}),
			);
			await onMade(spec);
		} catch (error) {
			setWrong(told(error));
		}
	};
	return (
		<div className="grid gap-3">
			<label htmlFor={id} className="text-soft">
				What it says
			</label>
			<textarea
				id={id}
				rows={2}
				value={words}
				placeholder={MARKS[mark].words}
				onChange={(e) => setWords(e.target.value)}
				className="rounded border border-soft bg-paper px-3 py-2 text-lg"
			/>
			<p className="text-soft">
				{MARKS[mark].hint} Windrift sets its height, gaps and place and checks it clause by clause. The
				figures are from memory: check them against the text in force.
			</p>
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
			<Button look="next" onClick={make} className="justify-self-start">
				Lay it out
			</Button>
		</div>
	);
}

const UNITS = [
	{ value: "as_the_file_says", text: "as the file says" },
	{ value: "millimetre", text: "millimetres" },
	{ value: "centimetre", text: "centimetres" },
	{ value: "inch", text: "inches" },
	{ value: "foot", text: "feet" },
] as const;

function KitFile({
	side,
	editing,
	onAdded,
}: {
	side: Schemas["SideView"];
	editing: Editing;
	onAdded: (id: string) => void;
}) {
	const [unit, setUnit] = useState<(typeof UNITS)[number]["value"]>("as_the_file_says");
	const [whole, setWhole] = useState(false);
	const [file, setFile] = useState<File | null>(null);
	const [kit, setKit] = useState<Schemas["KitView"] | null>(null);
	const [wrong, setWrong] = useState<string | null>(null);
	const tell = (error: unknown) => setWrong(told(error));
	const read = async (chosen: File | null, as = unit, one = whole) => {
		setFile(chosen);
		if (!chosen) return;
		try {
			const query = new URLSearchParams({
				unit: as,
				name: chosen.name.replace(/\.[^.]*$/, ""),
				whole: String(one),
			});
			setKit(await sendFile(`/api/sides/${side.id}/kit-file?${query}`, chosen));
			setWrong(null);
		} catch (error) {
			setKit(null);
			tell(error);
		}
	};
	const take = async () => {
		if (!kit) return;
		try {
			const first = await editing.addPieces(
				side.id,
				kit.pieces.map((p) => p.piece),
			);
			onAdded(first.id);
		} catch (error) {
			tell(error);
		}
	};
	const box = kit?.pieces
		.map((p) => p.bounds as [number, number, number, number])
		.reduce<[number, number, number, number] | null>(
			(a, [x, y, w, h]) =>
				a
					? [Math.min(a[0], x), Math.min(a[1], y), Math.max(a[2], x + w), Math.max(a[3], y + h)]
					: [x, y, x + w, y + h],
			null,
		);
	return (
		<div className="grid gap-3">
			<div className="grid gap-3 @lg:grid-cols-3">
				<label className="flex min-w-0 flex-col gap-1">
					<span className="text-soft">SVG or DXF file</span>
					<input
						type="file"
						accept=".svg,.dxf"
						onChange={(e) => read(e.target.files?.[0] ?? null)}
						className="h-11 rounded border border-soft bg-paper p-2"
					/>
				</label>
				<Choice
					label="One unit in the file is"
					value={unit}
					options={[...UNITS]}
					onChange={(next) => {
						setUnit(next);
						read(file, next);
					}}
				/>
				<label className="flex h-11 items-center gap-3 self-end">
					<input
						type="checkbox"
						checked={whole}
						onChange={(e) => {
							setWhole(e.target.checked);
							read(file, unit, e.target.checked);
						}}
						className="h-6 w-6 accent-spruce"
					/>
					Everything is one piece
				</label>
			</div>
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
			{kit && box && (
				<>
					<svg
						role="img"
						aria-label={`${kit.pieces.length} pieces in the file`}
						viewBox={`${box[0]} ${box[1]} ${box[2] - box[0]} ${box[3] - box[1]}`}
						className="max-h-64 w-full rounded bg-paper p-2"
					>
						{kit.pieces.map((p, n) => {
							const [x = 0, y = 0, w = 0, h = 0] = p.bounds;
							const size = (box[2] - box[0]) / 24;
							return (
								<g key={p.film}>
									<path d={p.film} fill="var(--color-spruce)" fillRule="evenodd" />
									<text
										x={x + w / 2}
										y={y + h / 2 + size / 3}
										fontSize={size}
										fontWeight={700}
										textAnchor="middle"
										fill="var(--color-paper)"
										stroke="var(--color-ink)"
										strokeWidth={size / 12}
										paintOrder="stroke"
									>
										{n + 1}
									</text>
								</g>
							);
						})}
					</svg>
					<ul className="grid gap-1">
						{kit.pieces.map((p, n) => (
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
					<Button look="next" onClick={take} className="justify-self-start">
						{kit.pieces.length === 1 ? "Lay this piece out" : `Lay these ${kit.pieces.length} pieces out`}
					</Button>
				</>
			)}
		</div>
	);
}
