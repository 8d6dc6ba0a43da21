import { type KeyboardEvent, useEffect, useRef, useState } from "react";
import { told } from "../api/client";

/**
 * A figure while it is typed. What was typed stays until the server has taken it; what the server says of it stands beside it. Enter and
 * then leaving the field is one wish, not two.
 */
export function useTyped(printed: string | undefined, onCommit: (text: string) => Promise<unknown>) {
	const [text, setText] = useState<string | null>(null);
	const [wrong, setWrong] = useState<string | null>(null);
	const sending = useRef<string | null>(null);
	// What stands was changed by the server: show it, unless somebody is typing.
	// biome-ignore lint/correctness/useExhaustiveDependencies: only a new printed value ends a finished edit
	useEffect(() => setWrong(null), [printed]);

	const drop = () => {
		setText(null);
		setWrong(null);
	};
	/** Whether it stands now. */
	const commit = async (): Promise<boolean> => {
		if (text === null || text === printed) {
			drop();
			return true;
		}
		if (sending.current === text) return false;
		sending.current = text;
		try {
			await onCommit(text);
			drop();
			return true;
		} catch (error) {
			setWrong(told(error));
			return false;
		} finally {
			sending.current = null;
		}
	};
	return {
		value: text ?? printed ?? "",
		wrong,
		type: setText,
		commit,
		field: {
			value: text ?? printed ?? "",
			autoComplete: "off",
			"aria-invalid": wrong !== null,
			onChange: (e: { target: { value: string } }) => setText(e.target.value),
			onBlur: () => void commit(),
			onKeyDown: (e: KeyboardEvent) => {
				if (e.key === "Enter") void commit();
				if (e.key === "Escape") drop();
			},
		},
	};
}
