import { Dialog, Select } from "radix-ui";
import type { ButtonHTMLAttributes, ReactNode } from "react";

type Option<T> = { value: T; text: string; note?: string; picture?: ReactNode };

const LOOKS = {
	next: "bg-tape text-ink hover:bg-tape-light font-bold",
	plain: "border border-soft bg-paper text-ink hover:bg-sheet",
	dark: "border border-bar-line text-white hover:bg-bar-over",
	trouble: "bg-trouble text-white font-bold hover:bg-trouble-dark",
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
					onOpenAutoFocus={(e) => {
						// On the first thing to fill in, where there is one, not on Close.
						const first = (e.currentTarget as HTMLElement).querySelector<HTMLElement>(
							"input:not([type=file]), textarea, [role=combobox]",
						);
						if (!first) return;
						e.preventDefault();
						first.focus();
					}}
					className={`@container fixed top-1/2 left-1/2 z-50 max-h-[92vh] w-[94vw] -translate-x-1/2 -translate-y-1/2 overflow-auto rounded bg-liner p-6 shadow-xl ${
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

/** What a list opens. */
function Options<T extends string>({ options }: { options: readonly Option<T>[] }) {
	return (
		<Select.Portal>
			<Select.Content
				position="popper"
				sideOffset={4}
				className="z-[60] max-h-[min(24rem,70vh)] overflow-auto rounded border border-line bg-paper p-1 shadow-lg"
			>
				<Select.Viewport>
					{options.map((o) => (
						<Select.Item
							key={o.value}
							value={o.value}
							className="flex min-h-11 cursor-pointer items-center justify-between gap-6 rounded px-3 data-highlighted:bg-tape data-highlighted:outline-none"
						>
							<span className="flex items-center gap-3">
								{o.picture}
								<Select.ItemText>{o.text}</Select.ItemText>
							</span>
							{o.note && <span className="text-soft">{o.note}</span>}
						</Select.Item>
					))}
				</Select.Viewport>
			</Select.Content>
		</Select.Portal>
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
	options: readonly Option<T>[];
	onChange: (value: T) => void;
}) {
	return (
		<div className="flex min-w-0 flex-col gap-1">
			<span className="text-soft">{label}</span>
			<Select.Root value={value} onValueChange={(v) => onChange(v as T)}>
				<Select.Trigger
					aria-label={label}
					className="flex h-11 min-w-0 items-center justify-between gap-2 rounded border border-soft bg-paper px-3 text-left"
				>
					<span className="truncate">
						<Select.Value placeholder="choose">{options.find((o) => o.value === value)?.text}</Select.Value>
					</span>
					<Select.Icon aria-hidden>▾</Select.Icon>
				</Select.Trigger>
				<Options options={options} />
			</Select.Root>
		</div>
	);
}

/** Words of a sentence that open into others. */
export function WordChoice<T extends string>({
	label,
	value,
	text,
	options,
	onChange,
}: {
	label: string;
	value: T;
	/** The words as they stand in the sentence. */
	text: string;
	options: readonly Option<T>[];
	onChange: (value: T) => void;
}) {
	return (
		<Select.Root value={value} onValueChange={(v) => onChange(v as T)}>
			<Select.Trigger
				aria-label={label}
				className="inline-flex h-11 max-w-full items-center gap-1 border-ink border-b-[3px] border-dotted bg-tape-pale px-1.5 align-baseline leading-none hover:bg-tape"
			>
				<span className="truncate leading-normal">
					<Select.Value>{text}</Select.Value>
				</span>
				<Select.Icon aria-hidden className="text-base">
					▾
				</Select.Icon>
			</Select.Trigger>
			<Options options={options} />
		</Select.Root>
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
			className={`sticky bottom-0 z-20 mt-auto flex min-h-[64px] shrink-0 items-center justify-between gap-x-6 gap-y-2 px-4 py-2.5 text-white max-sm:flex-wrap sm:px-6 ${
				alarm ? "bg-alarm" : "bg-bar"
			}`}
		>
			<p className="max-w-[60rem] text-xl" aria-live="polite" data-testid="next-move">
				<strong>{sentence}</strong> {detail && <span className="text-bar-soft">{detail}</span>}
			</p>
			{children && (
				<div className="flex shrink-0 gap-3 max-sm:w-full max-sm:[&>*]:grow max-sm:[&>*]:justify-center">
					{children}
				</div>
			)}
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
