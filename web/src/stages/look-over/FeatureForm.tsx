import { useState } from "react";
import { ask, client, type Schemas, told } from "../../api/client";
import { useShop } from "../../api/queries";
import { bind } from "../../readings/bound";
import { Button, Choice, TroubleNote } from "../../ui/parts";
import { DETAILS, type Field, FORM_NAMES, FORMS, type Form, inWords } from "./labels";
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
	const kind = shop.data?.feature_kinds.find((k) => k.kind === spec.kind);
	const datum = side.spec.references?.find((r) => r.id === spec.reference)?.name ?? side.spec.rail;
	const named = (label: string) => inWords(side, spec.reference, label);
	const tell = async (work: Promise<unknown>) => {
		try {
			await work;
			setWrong(null);
		} catch (error) {
			setWrong(told(error));
		}
	};
	const fields = bind<Spec>(spec, feature.printed, onSave, tell);
	const change = fields.set;
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
	const form = ([at, label, type]: Field<Form>) =>
		type
			? fields.number(`/form${at}`, named(label), type === "count")
			: fields.length(`/form${at}`, named(label));
	const { details } = spec;
	return (
		<section
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
			<div className="grid items-start gap-x-4 gap-y-3 @lg:grid-cols-2 @5xl:grid-cols-3">
				{FORMS[spec.form.form].map(form)}
			</div>
			{spec.form.form === "path" && (
				<ReadingsList
					readings={spec.form.points}
					printed={feature.printed}
					root="/form/points"
					datum={datum}
					onSave={(points) => change("/form/points", points)}
				/>
			)}
			<div className="grid items-start gap-x-4 gap-y-3 border-line border-t pt-3 @lg:grid-cols-2 @5xl:grid-cols-3">
				{kind && kind.forms.length > 1 && (
					<Choice
						label="Measured as"
						value={formKind(spec.form)}
						options={kind.forms.map((f) => ({ value: f, text: FORM_NAMES[f] }))}
						onChange={setForm}
					/>
				)}
				{spec.form.form === "rectangle" &&
					fields.choice("/form/to", "Measured to its", [
						{ value: "corner", text: "upper front corner" },
						{ value: "middle", text: "middle" },
					])}
				{side.spec.references && side.spec.references.length > 0 && (
					<Choice
						label="Measured from the"
						value={spec.reference ?? "rail"}
						options={[
							{ value: "rail", text: side.spec.rail },
							...side.spec.references.map((r) => ({ value: r.id, text: r.name })),
						]}
						onChange={(r) => tell(change("/reference", r === "rail" ? null : r))}
					/>
				)}
				{details &&
					DETAILS[details.of].map(([at, label, type]) =>
						type ? fields.number(`/details${at}`, label, false) : fields.length(`/details${at}`, label),
					)}
				{details?.of === "lamp" && (
					<>
						<Choice
							label="Lens"
							value={details.colour}
							options={(["amber", "red", "white"] as const).map((c) => ({ value: c, text: c }))}
							onChange={(c) => tell(change("/details/colour", c))}
						/>
						<Choice
							label="Required by law"
							value={details.required ? "yes" : "no"}
							options={[
								{ value: "yes", text: "yes" },
								{ value: "no", text: "no, an extra" },
							]}
							onChange={(r) => tell(change("/details/required", r === "yes"))}
						/>
					</>
				)}
				{details?.of === "recess" &&
					fields.choice("/details/open", "Air leaves", [
						{ value: "enclosed", text: "nowhere: walls all round" },
						{ value: "top", text: "at the top" },
						{ value: "foot", text: "at the foot" },
						{ value: "front", text: `towards the ${side.edges.zero}` },
						{ value: "rear", text: `towards the ${side.edges.far}` },
					])}
				{details?.of === "curve" && (
					<Choice
						label="It bends"
						value={details.compound ? "two" : "one"}
						options={[
							{ value: "one", text: "one way" },
							{ value: "two", text: "two ways" },
						]}
						onChange={(b) => tell(change("/details/compound", b === "two"))}
					/>
				)}
				{(kind?.class === "keep_off" || kind?.class === "line") &&
					fields.length("/clearance_mm", "Film keeps off it by")}
				{kind?.class !== "zone" &&
					fields.choice(
						"/comes_off",
						"Before film",
						[
							{ value: "stays", text: "it stays" },
							{ value: "goes_back", text: "it comes off and goes back" },
							{ value: "for_good", text: "it comes off for good" },
						],
						"stays",
					)}
				{fields.wordsOrNone("/called", "Called")}
				{fields.words("/note", "A word about it")}
			</div>
		</section>
	);
}
