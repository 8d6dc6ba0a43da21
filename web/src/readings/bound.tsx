import type { ReactNode } from "react";
import { Choice } from "../ui/parts";
import { LengthField } from "./LengthField";
import { NumberField } from "./NumberField";
import { TextField } from "./TextField";

/**
 * Where something stands in `T`, such as `/place/along/distance_mm`. Lists are stepped into by number. Deep enough for everything
 * that is edited here; what is deeper is not offered.
 */
export type PathIn<T, Deep extends 0[] = []> = Deep["length"] extends 4
	? never
	: T extends readonly (infer E)[]
		? `/${number}` | `/${number}${PathIn<E, [...Deep, 0]>}`
		: T extends object
			? { [K in keyof T & string]: `/${K}` | `/${K}${PathIn<NonNullable<T[K]>, [...Deep, 0]>}` }[keyof T &
					string]
			: never;

type Steps = Record<string, unknown> | unknown[];

/** What stands at a path; nothing where the way there is missing. */
export function at(value: unknown, path: string): unknown {
	return path
		.split("/")
		.slice(1)
		.reduce<unknown>((v, key) => (v as Record<string, unknown> | null | undefined)?.[key], value);
}

/** A copy with something else at a path. What is missing on the way there is made. */
export function put<T>(value: T, path: string, next: unknown): T {
	const [, first = "", ...rest] = path.split("/");
	const copy: Steps = Array.isArray(value) ? [...value] : { ...(value as Record<string, unknown>) };
	const steps = copy as Record<string, unknown>;
	steps[first] = rest.length > 0 ? put(steps[first] ?? {}, `/${rest.join("/")}`, next) : next;
	return copy as T;
}

/**
 * Fields bound to what they edit: each names where in `spec` it stands, shows what the server printed for that place and saves a copy
 * with what was typed there.
 */
export function bind<T extends object>(
	spec: T,
	printed: Record<string, string>,
	save: (next: T) => Promise<unknown>,
	tell: (work: Promise<unknown>) => unknown = (work) => work,
) {
	type Path = PathIn<T>;
	const set = (path: Path, next: unknown) => save(put(spec, path, next));
	return {
		set,
		length: (path: Path, label: string, hint?: string): ReactNode => (
			<LengthField
				key={path}
				label={label}
				hint={hint}
				printed={printed[path]}
				onCommit={(typed) => set(path, typed)}
			/>
		),
		/** A length that may be left away. */
		lengthOrNone: (path: Path, label: string, hint?: string): ReactNode => (
			<LengthField
				key={path}
				label={label}
				hint={hint}
				printed={printed[path]}
				onCommit={(typed) => set(path, typed.trim() ? typed : null)}
			/>
		),
		number: (path: Path, label: string, whole = true): ReactNode => (
			<NumberField
				key={path}
				label={label}
				whole={whole}
				value={Number(at(spec, path) ?? 0)}
				onCommit={(n) => set(path, n)}
			/>
		),
		words: (path: Path, label: string, hint?: string): ReactNode => (
			<TextField
				key={path}
				label={label}
				hint={hint}
				value={String(at(spec, path) ?? "")}
				onCommit={(text) => set(path, text)}
			/>
		),
		/** Words that may be left away. */
		wordsOrNone: (path: Path, label: string, hint?: string): ReactNode => (
			<TextField
				key={path}
				label={label}
				hint={hint}
				value={String(at(spec, path) ?? "")}
				onCommit={(text) => set(path, text || null)}
			/>
		),
		choice: <V extends string>(
			path: Path,
			label: string,
			options: readonly { value: V; text: string }[],
			otherwise?: V,
		): ReactNode => (
			<Choice
				key={path}
				label={label}
				value={(at(spec, path) ?? otherwise ?? "") as V}
				options={[...options]}
				onChange={(next) => tell(set(path, next))}
			/>
		),
		tick: (path: Path, label: string): ReactNode => (
			<label key={path} className="flex min-h-11 items-center gap-3 self-end">
				<input
					type="checkbox"
					checked={at(spec, path) === true}
					onChange={(e) => tell(set(path, e.target.checked))}
					className="h-6 w-6 shrink-0 accent-spruce"
				/>
				{label}
			</label>
		),
	};
}
