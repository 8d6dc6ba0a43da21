import { Tabs } from "radix-ui";
import { useWide } from "./Bench";
import { TouchChoice } from "./Floor";

/** Parts of a floor stage: tabs where there is room, a list that opens on a phone. Stands in a `Tabs.Root`. */
export function PartTabs<P extends string>({
	label,
	parts,
	shown,
	onShow,
}: {
	label: string;
	parts: readonly { value: P; text: string }[];
	shown: P;
	onShow: (part: P) => void;
}) {
	const wide = useWide();
	if (!wide) {
		return (
			<div className="flex">
				<TouchChoice label={label} value={shown} options={[...parts]} onChange={(p) => onShow(p as P)} />
			</div>
		);
	}
	return (
		<Tabs.List aria-label={label} className="flex flex-wrap gap-1 border-soft border-b-2">
			{parts.map((p) => (
				<Tabs.Trigger
					key={p.value}
					value={p.value}
					className="h-14 rounded-t px-3 text-soft data-[state=active]:bg-paper data-[state=active]:font-bold data-[state=active]:text-ink"
				>
					{p.text}
				</Tabs.Trigger>
			))}
		</Tabs.List>
	);
}
