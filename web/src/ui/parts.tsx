import { Dialog, Select } from "radix-ui";
import type { ButtonHTMLAttributes, ReactNode } from "react";

const LOOKS = {
	next: "bg-tape text-ink hover:bg-[#e8cd97] font-bold",
	plain: "border border-soft bg-paper text-ink hover:bg-white",
	dark: "border border-[#8c9896] text-white hover:bg-[#24373a]",
	trouble: "bg-trouble text-white font-bold hover:bg-[#72120d]",
};

/** A button. `next` is the one next move; there is one of it on a screen. */
export function Button({
	look = "plain",
	className = "",
	...rest
}: { look?: keyof typeof LOOKS } & ButtonHTMLAttributes<HTMLButtonElement>) {
	return (
		<button
			type="button"
			{...rest}
			className={`min-h-11 rounded px-4 disabled:cursor-not-allowed disabled:opacity-55 ${LOOKS[look]} ${className}`}
		/>
	);
}

/** Says what is wrong and what to do. Carries a word and a mark beside its colour. */
export function TroubleNote({ children, id }: { children: ReactNode; id?: string }) {
	return (
		<p
			role="alert"
			id={id}
			className="mt-1 flex gap-2 rounded border-l-4 border-trouble bg-trouble-soft px-3 py-2 text-trouble"
		>
			<strong aria-hidden>!</strong>
			<span>{children}</span>
		</p>
	);
}

/** A sheet over the page. */
export function Sheet({
	open,
	onOpenChange,
	title,
	children,
	wide,
}: {
	open: boolean;
	onOpenChange: (open: boolean) => void;
	title: string;
	children: ReactNode;
	wide?: boolean;
}) {
	return (
		<Dialog.Root open={open} onOpenChange={onOpenChange}>
			<Dialog.Portal>
				<Dialog.Overlay className="fixed inset-0 z-40 bg-ink/50" />
				<Dialog.Content
					aria-describedby={undefined}
					className={`fixed top-1/2 left-1/2 z-50 max-h-[92vh] w-[94vw] -translate-x-1/2 -translate-y-1/2 overflow-auto rounded bg-liner p-6 shadow-xl ${
						wide ? "max-w-4xl" : "max-w-xl"
					}`}
				>
					<div className="mb-4 flex items-start justify-between gap-4">
						<Dialog.Title className="font-bold text-2xl">{title}</Dialog.Title>
						<Dialog.Close className="h-11 rounded border border-soft bg-paper px-4">Close</Dialog.Close>
					</div>
					{children}
				</Dialog.Content>
			</Dialog.Portal>
		</Dialog.Root>
	);
}

/** One of several, from a list. */
export function Choice<T extends string>({
	label,
	value,
	options,
	onChange,
}: {
	label: string;
	value: T;
	options: { value: T; text: string; note?: string }[];
	onChange: (value: T) => void;
}) {
	return (
		<div className="flex flex-col gap-1">
			<span className="text-soft">{label}</span>
			<Select.Root value={value} onValueChange={(v) => onChange(v as T)}>
				<Select.Trigger
					aria-label={label}
					className="flex h-11 items-center justify-between gap-2 rounded border border-soft bg-paper px-3 text-left"
				>
					<Select.Value>{options.find((o) => o.value === value)?.text}</Select.Value>
					<Select.Icon aria-hidden>▾</Select.Icon>
				</Select.Trigger>
				<Select.Portal>
					<Select.Content
						position="popper"
						sideOffset={4}
						className="z-[60] max-h-80 overflow-auto rounded border border-line bg-paper p-1 shadow-lg"
					>
						<Select.Viewport>
							{options.map((o) => (
								<Select.Item
									key={o.value}
									value={o.value}
									className="flex min-h-11 cursor-pointer items-center justify-between gap-6 rounded px-3 data-highlighted:bg-tape data-highlighted:outline-none"
								>
									<Select.ItemText>{o.text}</Select.ItemText>
									{o.note && <span className="text-soft">{o.note}</span>}
								</Select.Item>
							))}
						</Select.Viewport>
					</Select.Content>
				</Select.Portal>
			</Select.Root>
		</div>
	);
}

/** The bar at the bottom: one sentence that can be shouted across the shop, and the button for it. */
export function NextMove({
	sentence,
	detail,
	children,
	alarm,
}: {
	sentence: string;
	detail?: string;
	children?: ReactNode;
	alarm?: boolean;
}) {
	return (
		<div
			className={`sticky bottom-0 z-20 mt-auto flex min-h-[72px] items-center justify-between gap-x-6 px-6 py-2.5 max-sm:flex-wrap text-white ${
				alarm ? "bg-[#5f120d]" : "bg-ink"
			}`}
		>
			<p className="max-w-[60rem] text-xl" aria-live="polite" data-testid="next-move">
				<strong>{sentence}</strong> {detail && <span className="text-[#dfe5e2]">{detail}</span>}
			</p>
			<div className="flex shrink-0 gap-3">{children}</div>
		</div>
	);
}

/** What is shown while something is on its way, or when it cannot be had. */
export function Waiting({ what, error }: { what: string; error?: Error | null }) {
	return error ? (
		<div className="m-6">
			<TroubleNote>{error.message}</TroubleNote>
		</div>
	) : (
		<p className="m-6 text-soft text-xl" role="status">
			Fetching {what}…
		</p>
	);
}
