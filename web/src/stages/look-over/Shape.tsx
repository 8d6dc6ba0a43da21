import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { ask, client, freshKey, type Schemas, told } from "../../api/client";
import { once } from "../../api/once";
import { type Editing, readOutline, useShop } from "../../api/queries";
import { kept } from "../../job/Floor";
import { bind } from "../../readings/bound";
import { TextField } from "../../readings/TextField";
import { Button, Choice, Sheet, TroubleNote } from "../../ui/parts";
import { OutlinePicture } from "../../ui/ShapePicture";
import { BODIES } from "./labels";
import { SameSide } from "./SameSide";

type Side = Schemas["SideView"];
type Props = {
	side: Side;
	editing: Editing;
	onSave: (spec: unknown) => Promise<unknown>;
	onPreview: (drawing: Schemas["SideDrawing"] | null) => void;
	onGone: () => void;
	guard: (work: () => Promise<unknown>) => Promise<void>;
};

/** The side's own shape: its dimensions, its references, and the ways of putting another outline in. */
export function Shape(props: Props) {
	const { side, onSave, onPreview } = props;
	const [way, setWay] = useState<"measures" | "readings" | "file" | "shape">("measures");
	const [same, setSame] = useState(false);
	const { body } = side.spec;
	const shape = BODIES[body.shape];
	const fields = bind<Side["spec"]>(side.spec, side.printed, onSave);
	// A shape that was only being tried does not outlive its panel.
	useEffect(() => () => onPreview(null), [onPreview]);
	const go = (next: typeof way) => {
		onPreview(null);
		setWay(next);
	};
	return (
		<div className="flex flex-col gap-4">
			<div role="radiogroup" aria-label="How the shape is put in" className="flex flex-wrap gap-2">
				{(
					[
						["measures", "As measured"],
						["readings", "By readings"],
						["file", "From a drawing file"],
						["shape", "From another shape"],
					] as const
				).map(([value, text]) => (
					<button
						key={value}
						type="button"
						role="radio"
						aria-checked={way === value}
						onClick={() => go(value)}
						className={`min-h-11 rounded px-4 ${
							way === value ? "bg-spruce font-bold text-white" : "border border-soft bg-paper"
						}`}
					>
						{text}
					</button>
				))}
			</div>
			{way === "measures" && (
				<>
					<h2 className="font-bold text-xl">{shape.name}</h2>
					{shape.fields.length > 0 ? (
						<section
							aria-label="The body"
							className="grid items-start gap-4 rounded bg-paper p-4 @lg:grid-cols-2 @5xl:grid-cols-4"
						>
							{shape.fields.map(([at, label]) => fields.length(`/body${at}`, label))}
						</section>
					) : (
						<p className="rounded bg-paper p-4 text-lg">
							{body.shape === "drawn"
								? `${side.size[0]} × ${side.size[1]}, read from ${body.file}. Read another file, or put it in by readings.`
								: `${side.size[0]} × ${side.size[1]}, typed as readings. Change them under By readings.`}
						</p>
					)}
					{side.mirror && (
						<>
							<Button className="justify-self-start self-start" onClick={() => setSame(true)}>
								Same as the other side
							</Button>
							<Sheet open={same} onOpenChange={setSame} title="Same as the other side" wide>
								<SameSide side={side} editing={props.editing} onDone={() => setSame(false)} />
							</Sheet>
						</>
					)}
					<References side={side} onSave={onSave} />
					<Named {...props} />
				</>
			)}
			{way === "readings" && <ByReadings {...props} onDone={() => go("measures")} />}
			{way === "file" && <FromFile {...props} onDone={() => go("measures")} />}
			{way === "shape" && <FromShape {...props} onDone={() => go("measures")} />}
		</div>
	);
}

/** Straight references beside the rail, and how each lies against level. */
function References({ side, onSave }: { side: Side; onSave: Props["onSave"] }) {
	const references = side.spec.references ?? [];
	const [wrong, setWrong] = useState<string | null>(null);
	const fields = bind<Side["spec"]>(side.spec, side.printed, onSave);
	const put = (next: unknown[]) => fields.set("/references", next);
	const tell = async (work: Promise<unknown>) => {
		try {
			await work;
			setWrong(null);
		} catch (error) {
			setWrong(told(error));
		}
	};
	return (
		<section aria-label="Straight references" className="flex flex-col gap-3 rounded bg-paper p-4">
			<h2 className="font-bold text-xl">Straight references</h2>
			<ul>
				{side.levels.map((l) => (
					<li key={l.id ?? "rail"}>{l.sentence}</li>
				))}
			</ul>
			{references.map((r, n) => {
				return (
					<div key={r.id} className="grid items-end gap-3 @2xl:grid-cols-4">
						{fields.words(`/references/${n}/name`, "Called")}
						{fields.length(`/references/${n}/front_drop_mm`, `Below the ${side.spec.rail}, front`)}
						{fields.length(`/references/${n}/rear_drop_mm`, `Below the ${side.spec.rail}, rear`)}
						<Button onClick={() => tell(put(references.filter((x) => x.id !== r.id)))}>Remove</Button>
					</div>
				);
			})}
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
			<Button
				className="self-start"
				onClick={() => {
					const half = ((side.drawing.bounds[1] ?? 0) + (side.drawing.bounds[3] ?? 0)) / 2;
					const fresh = { id: freshKey(), name: "body line", front_drop_mm: half, rear_drop_mm: half };
					tell(put([...references, fresh]));
				}}
			>
				Add a reference
			</Button>
		</section>
	);
}

/** What the side is called, which one it is, and keeping it as a template. */
function Named({ side, editing, onSave, onGone, guard }: Props) {
	const [name, setName] = useState("");
	const [kept, setKept] = useState<string | null>(null);
	const shop = useShop();
	const cache = useQueryClient();
	const keep = () =>
		guard(async () => {
			const answer = await once(JSON.stringify(["template", side.id, side.revision, name]), ({ id }) =>
				ask(
					client.POST("/api/sides/{id}/template", {
						params: { path: { id: side.id } },
						body: { id, name },
					}),
				),
			);
			await cache.invalidateQueries({ queryKey: ["templates"] });
			setKept(`Kept as “${answer.name}”, with ${answer.features} things on it.`);
			setName("");
		});
	return (
		<section
			aria-label="The side itself"
			className="grid items-end gap-4 rounded bg-paper p-4 @lg:grid-cols-2 @5xl:grid-cols-4"
		>
			<TextField
				label="The side is called"
				value={side.spec.called ?? ""}
				onCommit={(called) => onSave({ ...side.spec, called: called || null })}
				hint={`Otherwise: ${shop.data?.side_kinds.find((k) => k.kind === side.spec.kind)?.name ?? side.name}`}
			/>
			<TextField
				label="Its straight reference is called"
				value={side.spec.rail}
				onCommit={(rail) => onSave({ ...side.spec, rail })}
			/>
			{side.spec.facing === "up" && (
				<Choice
					label="The front lies"
					value={side.spec.front}
					options={[
						{ value: "left", text: "at the picture's left" },
						{ value: "right", text: "at its right" },
						{ value: "top", text: "at its top" },
						{ value: "foot", text: "at its foot" },
					]}
					onChange={(front) => guard(() => onSave({ ...side.spec, front }))}
				/>
			)}
			<div className="flex min-w-0 flex-col gap-1">
				<label htmlFor="template-name" className="text-soft">
					Keep it as the shop's template
				</label>
				<div className="flex gap-2">
					<input
						id="template-name"
						value={name}
						onChange={(e) => setName(e.target.value)}
						placeholder="name"
						className="h-11 w-full min-w-0 grow rounded border border-soft bg-paper px-3 text-lg"
					/>
					<Button disabled={name.trim() === ""} onClick={keep}>
						Keep
					</Button>
				</div>
				{kept && <span role="status">{kept}</span>}
			</div>
			<Button
				onClick={() =>
					guard(async () => {
						await editing.remove({ kind: "side", id: side.id, revision: side.revision });
						onGone();
					})
				}
			>
				Remove this side
			</Button>
		</section>
	);
}

/** An outline typed like a list; the shape appears as it is typed. */
function ByReadings({ side, onSave, onPreview, onDone }: Props & { onDone: () => void }) {
	const inches = side.unit !== "millimetre";
	const typing = `readings.${side.id}`;
	const [text, setText] = useState(
		kept.get(typing) ??
			side.readings ??
			(inches ? "0, 0\n8' 0, 0\n8' 0, 40\n0, 40\n" : "0, 0\n2400, 0\n2400, 1000\n0, 1000\n"),
	);
	const [answer, setAnswer] = useState<Schemas["ReadingsView"] | null>(null);
	const [wrong, setWrong] = useState<string | null>(null);
	const asked = useRef(0);
	useEffect(() => {
		const number = ++asked.current;
		const timer = setTimeout(async () => {
			try {
				const read = await ask(
					client.POST("/api/sides/{id}/readings", {
						params: { path: { id: side.id } },
						body: { lines: text.split("\n") },
					}),
				);
				if (number !== asked.current) return;
				setAnswer(read);
				setWrong(read.sentence ?? null);
				if (read.drawing) onPreview(read.drawing);
			} catch (error) {
				if (number !== asked.current) return;
				setAnswer(null);
				setWrong(told(error));
			}
		}, 250);
		return () => clearTimeout(timer);
	}, [text, side.id, onPreview]);
	// Words typed and not yet taken survive a reload.
	useEffect(() => kept.set(typing, text === side.readings ? null : text), [typing, text, side.readings]);
	const take = async () => {
		if (!answer) return;
		try {
			await onSave({ ...side.spec, body: answer.body });
			kept.set(typing, null);
			onDone();
		} catch (error) {
			setWrong(told(error));
		}
	};
	return (
		<section
			aria-label="Outline by readings"
			className="grid gap-4 rounded bg-paper p-4 @4xl:grid-cols-[22rem_1fr]"
		>
			<div className="flex min-w-0 flex-col gap-1">
				<label htmlFor="readings" className="text-soft">
					Back, down; one reading a line, walked round once
				</label>
				<textarea
					id="readings"
					value={text}
					rows={9}
					spellCheck={false}
					onChange={(e) => setText(e.target.value)}
					className="rounded border border-soft bg-sheet p-3 font-reading text-lg leading-7"
				/>
			</div>
			<div className="flex flex-col items-start gap-3 text-lg">
				<p>
					Hook the tape on at the {side.edges.zero} and run it along the {side.spec.rail}. At each corner type
					how far back it is, a comma, and how far it drops. An <strong>r</strong> at the end of a line rounds
					it.
				</p>
				{wrong && <TroubleNote>{wrong}</TroubleNote>}
				<Button look="next" disabled={!answer?.drawing} onClick={take}>
					Take this outline
				</Button>
			</div>
		</section>
	);
}

const FILE_UNITS = [
	{ value: "as_the_file_says", text: "what the file says" },
	{ value: "millimetre", text: "1 mm" },
	{ value: "centimetre", text: "1 cm" },
	{ value: "metre", text: "1 m" },
	{ value: "inch", text: "1 inch" },
	{ value: "foot", text: "1 foot" },
] as const;

/** An outline from a drawing file, checked against one measured length. */
function FromFile({ side, onSave, onPreview, onDone }: Props & { onDone: () => void }) {
	const [file, setFile] = useState<File | null>(null);
	const [unit, setUnit] = useState<(typeof FILE_UNITS)[number]["value"]>("as_the_file_says");
	const [measured, setMeasured] = useState("");
	const [answer, setAnswer] = useState<Schemas["OutlineFile"] | null>(null);
	const [wrong, setWrong] = useState<string | null>(null);
	const [busy, setBusy] = useState(false);
	const asked = useRef("");
	const read = async (chosen: File | null, u: string, m: string) => {
		// Enter and then leaving the field is one wish, not two.
		const key = `${chosen?.name} ${chosen?.lastModified} ${u} ${m}`;
		if (key === asked.current) return;
		asked.current = key;
		setAnswer(null);
		onPreview(null);
		if (!chosen) return;
		setBusy(true);
		try {
			const found = await readOutline(side.id, chosen, u, m);
			setAnswer(found);
			onPreview(found.drawing);
			setWrong(null);
		} catch (error) {
			setWrong(told(error));
		} finally {
			setBusy(false);
		}
	};
	const take = async () => {
		if (!answer) return;
		try {
			await onSave({ ...side.spec, body: answer.body, offered: answer.offered });
			onDone();
		} catch (error) {
			setWrong(told(error));
		}
	};
	return (
		<section aria-label="Outline from a file" className="flex flex-col gap-4 rounded bg-paper p-4">
			<div className="grid items-end gap-4 @2xl:grid-cols-3">
				<div className="flex min-w-0 flex-col gap-1">
					<label htmlFor="outline-file" className="text-soft">
						Drawing file, SVG or DXF
					</label>
					<input
						id="outline-file"
						type="file"
						accept=".svg,.dxf,image/svg+xml"
						onChange={(e) => {
							const chosen = e.target.files?.[0] ?? null;
							setFile(chosen);
							read(chosen, unit, measured);
						}}
						className="h-11 rounded border border-soft bg-sheet p-2"
					/>
				</div>
				<Choice
					label="One unit of the file is"
					value={unit}
					options={[...FILE_UNITS]}
					onChange={(u) => {
						setUnit(u);
						read(file, u, measured);
					}}
				/>
				<div className="flex min-w-0 flex-col gap-1">
					<label htmlFor="outline-measured" className="text-soft">
						Its length as the tape says
					</label>
					<input
						id="outline-measured"
						value={measured}
						onChange={(e) => setMeasured(e.target.value)}
						onBlur={() => read(file, unit, measured)}
						onKeyDown={(e) => e.key === "Enter" && read(file, unit, measured)}
						className="h-11 rounded border border-soft bg-paper px-3 font-bold font-reading text-lg"
					/>
				</div>
			</div>
			{busy && <p role="status">Reading the file…</p>}
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
			{answer && (
				<div className="flex flex-col items-start gap-2 text-lg">
					<p>
						<span className="font-bold font-reading">
							{answer.size[0]} × {answer.size[1]}
						</span>{" "}
						{answer.fit ?? "Measure its length and type it, so that the scale is checked."}
					</p>
					{answer.within.length > 0 && (
						<div>
							<p>Within it, each to be kept or left once the outline is taken (under Seen in the file):</p>
							<ul aria-label="Within it" className="list-disc pl-6 font-reading">
								{answer.within.map((w) => (
									<li key={w}>{w}</li>
								))}
							</ul>
						</div>
					)}
					{answer.not_used.length > 0 && (
						<ul className="list-disc pl-6">
							{answer.not_used.map((t) => (
								<li key={t}>{t}</li>
							))}
						</ul>
					)}
					<Button look="next" onClick={take}>
						Take this outline
					</Button>
				</div>
			)}
		</section>
	);
}

/** Start the side's outline again from one of our own shapes; what is on it must still fit. */
function FromShape({ side, onSave, onDone, guard }: Props & { onDone: () => void }) {
	const shop = useShop();
	const [shape, setShape] = useState<Schemas["StartShape"]>("box_body");
	const take = () =>
		guard(async () => {
			const spec = await ask(client.GET("/api/shapes/{shape}", { params: { path: { shape } } }));
			await onSave({ ...side.spec, body: spec.body, unmeasured: spec.unmeasured, offered: spec.offered });
			onDone();
		});
	return (
		<section aria-label="Another shape" className="flex flex-wrap items-end gap-4 rounded bg-paper p-4">
			<div className="w-72">
				<Choice
					label="Shape"
					value={shape}
					options={(shop.data?.start_shapes ?? []).map((s) => ({
						value: s.shape,
						text: s.name,
						picture: <OutlinePicture picture={s.picture} />,
					}))}
					onChange={setShape}
				/>
			</div>
			<Button look="next" onClick={take}>
				Start from it
			</Button>
			<p className="w-full text-lg">
				Its dimensions are usual ones; type what the tape says. What is measured on the side stays, where it
				still fits.
			</p>
		</section>
	);
}
