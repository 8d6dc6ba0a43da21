import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client, type Schemas, told } from "../../api/client";
import { once } from "../../api/once";
import { type Editing, useShop, useTemplates } from "../../api/queries";
import { Button, Choice, Sheet, TroubleNote } from "../../ui/parts";
import { OutlinePicture } from "../../ui/ShapePicture";

/** Adds a side: from one of our shapes, the shop's template, or the mirror of a side that is there. */
export function AddSide({
	open,
	onOpenChange,
	sides,
	editing,
	onAdded,
}: {
	open: boolean;
	onOpenChange: (open: boolean) => void;
	sides: Schemas["SideSummary"][];
	editing: Editing;
	onAdded: (id: string) => void;
}) {
	const shop = useShop();
	const templates = useTemplates();
	const cache = useQueryClient();
	const [from, setFrom] = useState("shape:box_body");
	const [kind, setKind] = useState<Schemas["SideKind"] | "usual">("usual");
	const [called, setCalled] = useState("");
	const [wrong, setWrong] = useState<string | null>(null);
	const tell = async (work: () => Promise<unknown>) => {
		try {
			await work();
			setWrong(null);
		} catch (error) {
			setWrong(told(error));
		}
	};
	const add = () =>
		tell(async () => {
			const [what, value = ""] = from.split(":");
			const start: Schemas["SideStart"] =
				what === "template"
					? { from: "template", template: value }
					: what === "mirror"
						? { from: "mirror_of", side: value }
						: { from: "shape", shape: value as Schemas["StartShape"] };
			const row = await editing.addSide({
				start,
				kind: kind === "usual" || what === "mirror" ? null : kind,
				called: called.trim() || null,
			});
			onAdded(row.id);
			onOpenChange(false);
		});
	const readTemplate = (file: File) =>
		tell(async () => {
			const template = JSON.parse(await file.text()) as Schemas["SideTemplate"];
			const kept = await once(JSON.stringify(["template", template]), ({ id }) =>
				ask(client.POST("/api/templates", { body: { id, template } })),
			);
			await cache.invalidateQueries({ queryKey: ["templates"] });
			setFrom(`template:${kept.id}`);
		});
	const mirrored = sides.filter((s) => ["left", "right", "port", "starboard", "door"].includes(s.kind));
	return (
		<Sheet open={open} onOpenChange={onOpenChange} title="Add a side">
			<form
				className="flex flex-col gap-4"
				onSubmit={(e) => {
					e.preventDefault();
					add();
				}}
			>
				<Choice
					label="Start from"
					value={from}
					onChange={setFrom}
					options={[
						...(shop.data?.start_shapes ?? []).map((s) => ({
							value: `shape:${s.shape}`,
							text: s.name,
							picture: <OutlinePicture picture={s.picture} />,
						})),
						...(templates.data ?? []).map((t) => ({
							value: `template:${t.id}`,
							text: t.name,
							note: `template, ${t.features} things on it`,
						})),
						...mirrored.map((s) => ({ value: `mirror:${s.id}`, text: `Mirror of the ${s.name}` })),
					]}
				/>
				{!from.startsWith("mirror") && (
					<Choice
						label="Kind of side"
						value={kind}
						onChange={setKind}
						options={[
							{ value: "usual" as const, text: "the usual one for it" },
							...(shop.data?.side_kinds ?? []).map((k) => ({ value: k.kind, text: k.name })),
						]}
					/>
				)}
				<div className="flex min-w-0 flex-col gap-1">
					<label htmlFor="side-called" className="text-soft">
						Called
					</label>
					<input
						id="side-called"
						value={called}
						onChange={(e) => setCalled(e.target.value)}
						className="h-11 rounded border border-soft bg-paper px-3 text-lg"
					/>
					<span className="text-soft">May stay empty.</span>
				</div>
				{from.startsWith("template:") && (
					<div className="flex flex-wrap gap-3">
						<a
							className="flex min-h-11 items-center rounded border border-soft bg-paper px-4"
							href={`/api/templates/${from.slice(9)}/template.json`}
							download
						>
							Save the template as a file
						</a>
						<Button
							onClick={() =>
								tell(async () => {
									await ask(
										client.DELETE("/api/templates/{id}", { params: { path: { id: from.slice(9) } } }),
									);
									setFrom("shape:box_body");
									await cache.invalidateQueries({ queryKey: ["templates"] });
								})
							}
						>
							Remove the template
						</Button>
					</div>
				)}
				<label className="flex min-h-11 cursor-pointer items-center self-start rounded border border-soft bg-paper px-4 focus-within:outline-3 focus-within:outline-measure">
					Read in a template file
					<input
						type="file"
						accept=".json,application/json"
						className="sr-only"
						onChange={(e) => {
							const file = e.target.files?.[0];
							if (file) readTemplate(file);
							e.target.value = "";
						}}
					/>
				</label>
				{wrong && <TroubleNote>{wrong}</TroubleNote>}
				<Button look="next" type="submit" className="self-end text-lg">
					Add it
				</Button>
			</form>
		</Sheet>
	);
}
