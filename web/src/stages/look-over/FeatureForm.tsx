import { useEffect, useRef, useState } from "react";
import { ask, client, type Schemas, told } from "../../api/client";
import { useShop } from "../../api/queries";
import { bind, put } from "../../readings/bound";
import { Line, Sentence } from "../../readings/Sentence";
import { Button, TroubleNote, WordChoice } from "../../ui/parts";
import { FORM_NAMES } from "./labels";
import { ReadingsList } from "./ReadingsList";

type Feature = Schemas["FeatureView"];
type Spec = Schemas["Feature"];

/** Which of the offered ways a form is. */
const formKind = (form: Schemas["Form"]): Schemas["FormKind"] =>
	form.form === "path" ? (form.closed ? "outline" : "open_path") : form.form;

/** The measures of one feature. */
export function FeatureForm({
	side,
	feature,
	onSave,
	onRemove,
	onRepeat,
	onMirror,
}: {
	side: Schemas["SideView"];
	feature: Feature;
	onSave: (spec: unknown) => Promise<unknown>;
	onRemove: () => void;
	onRepeat: () => void;
	onMirror?: () => void;
}) {
	const shop = useShop();
	const [wrong, setWrong] = useState<string | null>(null);
	const { spec } = feature;
	// What was chosen in the picture or the list is seen at once. Whoever is typing stays where he types.
	const section = useRef<HTMLElement>(null);
	// biome-ignore lint/correctness/useExhaustiveDependencies: another feature was chosen
	useEffect(() => {
		if (document.activeElement?.tagName !== "INPUT") section.current?.scrollIntoView({ block: "start" });
	}, [feature.id]);
	const kind = shop.data?.feature_kinds.find((k) => k.kind === spec.kind);
	const datum = side.spec.references?.find((r) => r.id === spec.reference)?.name ?? side.spec.rail;
	const tell = async (work: Promise<unknown>) => {
		try {
			await work;
			setWrong(null);
		} catch (error) {
			setWrong(told(error));
		}
	};
	const fields = bind<Spec>(spec, feature.printed, onSave, tell);
	const change = (path: string, next: unknown) => onSave(put(spec, path, next));
	const setForm = (form: Schemas["FormKind"]) =>
		tell(
			(async () => {
				const start = await ask(
					client.POST("/api/sides/{id}/features/start", {
						params: { path: { id: side.id } },
						body: { kind: spec.kind, form },
					}),
				);
				await change("/form", start.form);
			})(),
		);
	return (
		<section
			ref={section}
			aria-label={feature.name}
			className="flex flex-col gap-3 rounded bg-paper p-4 @max-4xl:order-first"
		>
			<div className="flex flex-wrap items-center justify-between gap-2">
				<h2 className="font-bold text-xl first-letter:uppercase">{feature.name}</h2>
				<div className="flex flex-wrap gap-2">
					<Button className="px-3" onClick={onRepeat}>
						Once more
					</Button>
					{onMirror && (
						<Button className="px-3" onClick={onMirror}>
							Copy to the other side
						</Button>
					)}
					<Button className="px-3" onClick={onRemove}>
						Remove
					</Button>
				</div>
			</div>
			<p className="font-reading text-soft" data-testid="quick">
				{feature.quick}
			</p>
			{wrong && <TroubleNote>{wrong}</TroubleNote>}
			{feature.held_by.length > 0 && (
				<p className="text-soft">{feature.held_by.map((t) => `“${t}”`).join(" and ")} is placed by it.</p>
			)}
			<Sentence said={feature.said} kept={{ set: change, tell }} label="How it is measured" />
			{spec.form.form === "path" && (
				<ReadingsList
					readings={spec.form.points}
					printed={feature.printed}
					root="/form/points"
					datum={datum}
					onSave={(points) => change("/form/points", points)}
				/>
			)}
			{kind && kind.forms.length > 1 && (
				<Line label="Which way it is measured">
					It is measured as{" "}
					<WordChoice
						label="Measured as"
						value={formKind(spec.form)}
						text={FORM_NAMES[formKind(spec.form)]}
						options={kind.forms.map((f) => ({ value: f, text: FORM_NAMES[f] }))}
						onChange={setForm}
					/>
					.
				</Line>
			)}
			<div className="grid items-start gap-x-4 gap-y-3 border-line border-t pt-3 @lg:grid-cols-2">
				{fields.wordsOrNone("/called", "Called")}
				{fields.words("/note", "A word about it")}
			</div>
		</section>
	);
}
