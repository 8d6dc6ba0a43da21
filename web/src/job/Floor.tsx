import type { ReactNode } from "react";

/** What is worked at on the floor: scrolls by itself at a desk, with the page on a phone. The bar below covers nothing of it. */
export const FloorPane = ({ children, className = "" }: { children: ReactNode; className?: string }) => (
	<div
		className={`@container flex min-h-0 min-w-0 grow flex-col gap-2 overflow-y-auto px-3 pt-2 [&>*]:shrink-0 pb-3 sm:gap-3 sm:px-6 ${className}`}
	>
		{children}
	</div>
);

/** One of several pieces or sections, by touch: a list that opens, so that forty take no more room than two. */
export function TouchChoice({
	label,
	value,
	options,
	onChange,
}: {
	label: string;
	value: string;
	options: { value: string; text: string }[];
	onChange: (value: string) => void;
}) {
	return (
		<select
			aria-label={label}
			value={value}
			onChange={(e) => onChange(e.target.value)}
			className="h-16 min-w-0 max-w-full flex-1 truncate rounded border border-soft bg-paper px-2 text-lg sm:max-w-80 sm:px-3"
		>
			{options.map((o) => (
				<option key={o.value} value={o.value}>
					{o.text}
				</option>
			))}
		</select>
	);
}

/** Kept on this machine, so that what was done stays done when the page is loaded again. */
export const kept = {
	get: (key: string) => localStorage.getItem(`windrift.${key}`),
	set: (key: string, value: string | null) =>
		value === null
			? localStorage.removeItem(`windrift.${key}`)
			: localStorage.setItem(`windrift.${key}`, value),
};
