import type { Schemas } from "../api/client";
import { useShop } from "../api/queries";
import { Choice } from "../ui/parts";

const NOBODY = "unsaid";

/** What lies behind the skin, with how thick that is: it decides how it warms and how hot core and glue may get. */
export function BehindSkin({
	surface,
	onChange,
}: {
	surface: Schemas["Surface"];
	onChange: (part: Partial<Schemas["Surface"]>) => void;
}) {
	const shop = useShop();
	return (
		<Choice
			label="Behind the skin"
			value={surface.behind ?? NOBODY}
			options={[
				{ value: NOBODY, text: "nobody looked" },
				...(shop.data?.behind_skins ?? []).map((b) => ({ value: b.value, text: b.name })),
			]}
			onChange={(value) =>
				onChange({ behind: value === NOBODY ? null : (value as Schemas["Surface"]["behind"]) })
			}
		/>
	);
}
