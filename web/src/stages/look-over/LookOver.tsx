import { DropdownMenu } from "radix-ui";
import { useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import { type Schemas, Trouble } from "../../api/client";
import type { Editing } from "../../api/queries";
import { SidePicture } from "../../drawing/SidePicture";
import { LengthField } from "../../readings/LengthField";
import { Button, Choice, NextMove, TroubleNote } from "../../ui/parts";
import { useSaving } from "../Conflict";
import { stagePath } from "../stages";
import { type Field, KINDS, type Kind } from "./kinds";

type Side = Schemas["SideView"];
type Feature = Schemas["FeatureView"];

/** What is it, how big, what is in the way: the side from its measurements, shown as they are typed. */
export function LookOver({ job, side, editing }: { job: string; side: Side; editing: Editing }) {
	const [open, setOpen] = useState<string | null>(null);
	const [wrong, setWrong] = useState<string | null>(null);
	const { save, dialog } = useSaving(editing, side.unit);

	const measure = (key: keyof Side["spec"]) => (text: string) =>
		save({ kind: "side", id: side.id, revision: side.revision }, side.spec, { ...side.spec, [key]: text });

	const guard = async (work: () => Promise<unknown>) => {
		try {
			await work();
			setWrong(null);
		} catch (error) {
			setWrong(error instanceof Trouble ? error.message : String(error));
		}
	};
	const add = (kind: Kind) =>
		guard(async () => {
			const row = await editing.add("feature", side.id, { kind, ...KINDS[kind].start });
			setOpen(row.id);
		});

	return (
		<>
			<main className="flex grow flex-col gap-3 px-6 pt-1 pb-4">
				{/* Stays in sight while its measurements are typed below it. */}
				<div className="sticky top-0 z-10 bg-liner">
					<SidePicture
						side={side}
						pieces={side.pieces}
						maxHeight={300}
						label={`${side.name}, ${side.printed["/length_mm"]} long, ${side.printed["/height_mm"]} high`}
						ghost
					/>
				</div>
				<div className="grid gap-4">
					<section aria-label="The body" className="grid items-start gap-4 md:grid-cols-3">
						<LengthField
							label="The body: length along the top rail"
							printed={side.printed["/length_mm"]}
							onCommit={measure("length_mm")}
						/>
						<LengthField
							label="Height at the front edge"
							printed={side.printed["/height_mm"]}
							onCommit={measure("height_mm")}
						/>
						<LengthField
							label="Rail falls, front to rear"
							printed={side.printed["/fall_mm"]}
							onCommit={measure("fall_mm")}
							hint="Against level. Less than 0 where it rises."
						/>
					</section>
					<section aria-label="What is on it" className="flex flex-col gap-2">
						<div className="flex items-center justify-between">
							<h2 className="font-bold text-xl">What is on it</h2>
							<AddMenu onAdd={add} />
						</div>
						{wrong && <TroubleNote>{wrong}</TroubleNote>}
						{side.features.length === 0 && (
							<p className="text-lg">
								Nothing yet. Measure what film must know of: seams, rivets, doors, lamps, arches.
							</p>
						)}
						<ul className="flex flex-col gap-2">
							{side.features.map((feature) => (
								<FeatureRow
									key={feature.id}
									feature={feature}
									open={open === feature.id}
									onOpen={() => setOpen(open === feature.id ? null : feature.id)}
									onSave={(spec) =>
										save({ kind: "feature", id: feature.id, revision: feature.revision }, feature.spec, spec)
									}
									onRemove={() =>
										guard(() =>
											editing.remove({ kind: "feature", id: feature.id, revision: feature.revision }),
										)
									}
								/>
							))}
						</ul>
					</section>
				</div>
			</main>
			<NextMove
				sentence={
					side.features.length === 0
						? "Measure the seams and the rivets."
						: `${side.printed["/length_mm"]} long, ${side.printed["/height_mm"]} high, ${side.drawing.columns.length} rivet columns.`
				}
				detail={
					side.features.length === 0
						? "Then lay out the lettering."
						: "Check them against the tape, then lay out."
				}
			>
				<Link
					to={`${stagePath(job, "lay_out")}?side=${side.id}`}
					className="flex min-h-11 items-center rounded bg-tape px-5 font-bold text-ink"
				>
					Lay out
				</Link>
			</NextMove>
			{dialog}
		</>
	);
}

function AddMenu({ onAdd }: { onAdd: (kind: Kind) => void }) {
	return (
		<DropdownMenu.Root>
			<DropdownMenu.Trigger className="h-11 rounded border border-soft bg-paper px-4 font-semibold">
				Add something ▾
			</DropdownMenu.Trigger>
			<DropdownMenu.Portal>
				<DropdownMenu.Content
					sideOffset={4}
					align="end"
					className="z-50 rounded border border-line bg-paper p-1 shadow-lg"
				>
					{(Object.keys(KINDS) as Kind[]).map((kind) => (
						<DropdownMenu.Item
							key={kind}
							onSelect={() => onAdd(kind)}
							className="flex min-h-11 cursor-pointer items-center rounded px-4 text-lg data-highlighted:bg-tape data-highlighted:outline-none"
						>
							{KINDS[kind].name}
						</DropdownMenu.Item>
					))}
				</DropdownMenu.Content>
			</DropdownMenu.Portal>
		</DropdownMenu.Root>
	);
}

function FeatureRow({
	feature,
	open,
	onOpen,
	onSave,
	onRemove,
}: {
	feature: Feature;
	open: boolean;
	onOpen: () => void;
	onSave: (spec: unknown) => Promise<unknown>;
	onRemove: () => void;
}) {
	const kind = KINDS[feature.spec.kind];
	const spec = feature.spec as unknown as Record<string, unknown>;
	const summary = kind.fields
		.slice(0, 3)
		.map(
			(f) => `${f.label.toLowerCase()} ${f.type === "length" ? feature.printed[`/${f.key}`] : spec[f.key]}`,
		)
		.join(", ");
	return (
		<li className="rounded bg-paper">
			<button
				type="button"
				aria-expanded={open}
				onClick={onOpen}
				className="flex min-h-12 w-full items-center gap-4 px-4 text-left"
			>
				<strong className="text-lg">{kind.name}</strong>
				<span className="text-soft">{summary}</span>
				<span aria-hidden className="ml-auto">
					{open ? "▴" : "▾"}
				</span>
			</button>
			{open && (
				<div className="grid gap-x-4 gap-y-3 px-4 pb-4 sm:grid-cols-2 xl:grid-cols-3">
					{kind.fields.map((field) => (
						<FeatureField key={field.key} field={field} feature={feature} onSave={onSave} />
					))}
					<div className="flex items-end">
						<Button onClick={onRemove}>Remove the {kind.name.toLowerCase()}</Button>
					</div>
				</div>
			)}
		</li>
	);
}

function FeatureField({
	field,
	feature,
	onSave,
}: {
	field: Field;
	feature: Feature;
	onSave: (spec: unknown) => Promise<unknown>;
}) {
	const spec = feature.spec as unknown as Record<string, unknown>;
	if (field.type === "length") {
		return (
			<LengthField
				label={field.label}
				printed={feature.printed[`/${field.key}`]}
				onCommit={(text) => onSave({ ...spec, [field.key]: text })}
			/>
		);
	}
	if (field.type === "colour") {
		return (
			<Choice
				label={field.label}
				value={String(spec[field.key])}
				options={["amber", "red", "white"].map((c) => ({ value: c, text: c }))}
				onChange={(value) => onSave({ ...spec, [field.key]: value })}
			/>
		);
	}
	return (
		<CountField
			field={field}
			value={Number(spec[field.key])}
			onCommit={(n) => onSave({ ...spec, [field.key]: n })}
		/>
	);
}

function CountField({
	field,
	value,
	onCommit,
}: {
	field: Field;
	value: number;
	onCommit: (n: number) => Promise<unknown>;
}) {
	const [text, setText] = useState(String(value));
	const sending = useRef<string | null>(null);
	const [wrong, setWrong] = useState<string | null>(null);
	useEffect(() => setText(String(value)), [value]);
	const commit = async () => {
		if (!/^\d{1,6}$/.test(text.trim())) {
			setWrong("Type a whole number.");
			return;
		}
		if (Number(text) === value || sending.current === text) return;
		sending.current = text;
		try {
			await onCommit(Number(text));
			setWrong(null);
		} catch (error) {
			setWrong(error instanceof Trouble ? error.message : String(error));
		} finally {
			sending.current = null;
		}
	};
	const id = `${field.key}-count`;
	return (
		<div className="flex flex-col gap-1">
			<label htmlFor={id} className="text-soft">
				{field.label}
			</label>
			<input
				id={id}
				value={text}
				inputMode="numeric"
				onChange={(e) => setText(e.target.value)}
				onBlur={commit}
				onKeyDown={(e) => e.key === "Enter" && commit()}
				aria-invalid={wrong !== null}
				className="h-11 rounded border border-soft bg-paper px-3 font-bold font-reading text-lg"
			/>
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
		</div>
	);
}
