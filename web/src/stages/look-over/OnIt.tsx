import { DropdownMenu } from "radix-ui";
import { useEffect, useRef, useState } from "react";
import { ask, client, type Schemas, Trouble } from "../../api/client";
import { type Editing, useShop } from "../../api/queries";
import type { Point } from "../../drawing/frame";
import { Button, Sheet } from "../../ui/parts";
import { FeatureForm } from "./FeatureForm";
import { CLASS_NAMES, FORM_NAMES } from "./labels";

type Side = Schemas["SideView"];
type Feature = Schemas["FeatureView"];

/** Everything measured on a side: a list, and the measures of the one that is chosen. */
export function OnIt({
	side,
	editing,
	chosen,
	onChoose,
	onSave,
	middle,
	guard,
}: {
	side: Side;
	editing: Editing;
	chosen: string | null;
	onChoose: (id: string | null) => void;
	onSave: (feature: Feature, spec: unknown) => Promise<unknown>;
	/** Where a new one begins, mm; the side's middle where nothing was tapped. */
	middle: Point | null;
	guard: (work: () => Promise<unknown>) => Promise<void>;
}) {
	const [asked, setAsked] = useState<{ feature: Feature; sentence: string } | null>(null);
	const feature = side.features.find((f) => f.id === chosen);

	const add = (kind: Schemas["FeatureKind"], form: Schemas["FormKind"]) =>
		guard(async () => {
			const spec = await ask(
				client.POST("/api/sides/{id}/features/start", {
					params: { path: { id: side.id } },
					body: { kind, form, at: middle ? [...middle] : null },
				}),
			);
			const row = await editing.add("feature", side.id, spec);
			onChoose(row.id);
		});
	const remove = async (f: Feature, anyway = false) => {
		try {
			await editing.remove({ kind: "feature", id: f.id, revision: f.revision }, anyway);
			setAsked(null);
			onChoose(null);
		} catch (error) {
			if (error instanceof Trouble && error.problem.code === "in_use")
				setAsked({ feature: f, sentence: error.message });
			else await guard(() => Promise.reject(error));
		}
	};

	return (
		<div className="grid items-start gap-4 @4xl:grid-cols-[21rem_1fr]">
			<section aria-label="What is on it" className="flex flex-col gap-2">
				<AddMenu onAdd={add} />
				{side.features.length === 0 && (
					<p className="text-lg">
						Nothing yet. Measure what film must know of: seams, rivets, doors, lamps, recesses.
					</p>
				)}
				<List features={side.features} chosen={chosen} onChoose={onChoose} />
			</section>
			{feature ? (
				<FeatureForm
					key={feature.id}
					side={side}
					feature={feature}
					onSave={(spec) => onSave(feature, spec)}
					onRemove={() => remove(feature)}
					onRepeat={() =>
						guard(async () => {
							const row = await editing.add("feature", side.id, feature.spec);
							onChoose(row.id);
						})
					}
					onMirror={side.mirror ? () => guard(() => editing.mirror(feature.id)) : undefined}
				/>
			) : (
				side.features.length > 0 && (
					<p className="rounded bg-paper p-4 text-lg @max-4xl:order-first">
						Choose something in the picture or in the list. Drag it once it is chosen, or step it with the
						arrow keys.
					</p>
				)
			)}
			<Sheet
				open={asked !== null}
				onOpenChange={(open) => !open && setAsked(null)}
				title="A piece hangs on it"
			>
				<p className="mb-5 text-lg">{asked?.sentence}</p>
				<div className="flex justify-end gap-3">
					<Button onClick={() => setAsked(null)}>Keep it</Button>
					<Button look="trouble" onClick={() => asked && remove(asked.feature, true)}>
						Remove it all the same
					</Button>
				</div>
			</Sheet>
		</div>
	);
}

/** Height of a row and of the list, px; only rows in sight and a few round them are drawn, so that 600 are as light as 20. */
const ROW = 48;
const TALL = 384;

function List({
	features,
	chosen,
	onChoose,
}: {
	features: Feature[];
	chosen: string | null;
	onChoose: (id: string) => void;
}) {
	const list = useRef<HTMLUListElement>(null);
	const [top, setTop] = useState(0);
	const at = features.findIndex((f) => f.id === chosen);
	// The chosen one comes into sight.
	useEffect(() => {
		const element = list.current;
		if (!element || at < 0) return;
		if (at * ROW < element.scrollTop) element.scrollTop = at * ROW;
		if ((at + 1) * ROW > element.scrollTop + TALL) element.scrollTop = (at + 1) * ROW - TALL;
	}, [at]);
	const first = Math.max(0, Math.floor(top / ROW) - 4);
	const last = Math.min(features.length, Math.ceil((top + TALL) / ROW) + 4);
	return (
		<ul
			ref={list}
			className="relative overflow-y-auto pr-1"
			style={{ maxHeight: TALL }}
			onScroll={(e) => setTop(e.currentTarget.scrollTop)}
		>
			<li aria-hidden style={{ height: first * ROW }} />
			{features.slice(first, last).map((f) => (
				<li key={f.id} style={{ height: ROW }}>
					<button
						type="button"
						aria-pressed={f.id === chosen}
						onClick={() => onChoose(f.id)}
						className={`flex h-11 w-full items-center justify-between gap-3 rounded px-3 text-left ${
							f.id === chosen ? "bg-measure font-bold text-white" : "bg-paper"
						}`}
					>
						<span className="truncate first-letter:uppercase">{f.name}</span>
						<span className="shrink-0 font-reading">{placeOf(f)}</span>
					</button>
				</li>
			))}
			<li aria-hidden style={{ height: (features.length - last) * ROW }} />
		</ul>
	);
}

/** Where a feature begins, as printed. */
const placeOf = (f: Feature) =>
	f.printed["/form/back_mm"] ??
	f.printed["/form/first_mm"] ??
	f.printed["/form/centre_mm"] ??
	f.printed["/form/points/0/back_mm"];

/** What can be added, by what it does to film. */
function AddMenu({ onAdd }: { onAdd: (kind: Schemas["FeatureKind"], form: Schemas["FormKind"]) => void }) {
	const shop = useShop();
	const kinds = shop.data?.feature_kinds ?? [];
	const classes = ["heads", "line", "keep_off", "zone"] as const;
	const item =
		"flex min-h-11 cursor-pointer items-center justify-between gap-6 rounded px-4 text-lg outline-none data-highlighted:bg-tape";
	const panel = "z-50 max-h-[70vh] overflow-auto rounded border border-line bg-paper p-1 shadow-lg";
	return (
		<DropdownMenu.Root>
			<DropdownMenu.Trigger className="h-11 self-start rounded border border-soft bg-paper px-4 font-semibold">
				Add something ▾
			</DropdownMenu.Trigger>
			<DropdownMenu.Portal>
				<DropdownMenu.Content sideOffset={4} align="start" className={panel}>
					{classes.map((c) => (
						<DropdownMenu.Sub key={c}>
							<DropdownMenu.SubTrigger className={item}>
								{CLASS_NAMES[c]} <span aria-hidden>▸</span>
							</DropdownMenu.SubTrigger>
							<DropdownMenu.Portal>
								<DropdownMenu.SubContent className={panel} sideOffset={2}>
									{kinds
										.filter((k) => k.class === c)
										.map((k) => (
											<DropdownMenu.Item
												key={k.kind}
												className={`${item} first-letter:uppercase`}
												onSelect={() => k.forms[0] && onAdd(k.kind, k.forms[0])}
											>
												<span className="first-letter:uppercase">{k.name}</span>
												{k.forms[0] && <span className="sr-only">{FORM_NAMES[k.forms[0]]}</span>}
											</DropdownMenu.Item>
										))}
								</DropdownMenu.SubContent>
							</DropdownMenu.Portal>
						</DropdownMenu.Sub>
					))}
				</DropdownMenu.Content>
			</DropdownMenu.Portal>
		</DropdownMenu.Root>
	);
}
