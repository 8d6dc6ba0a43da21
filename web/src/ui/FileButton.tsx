import type { ReactNode } from "react";

/** A button that takes a file. The same file again is a choice, too. */
export function FileButton({
	accept,
	onFile,
	children,
}: {
	accept: string;
	onFile: (file: File) => void;
	children: ReactNode;
}) {
	return (
		<label className="flex min-h-11 w-fit cursor-pointer items-center gap-3 rounded border border-soft bg-paper px-4 focus-within:outline-3 focus-within:outline-measure">
			{children}
			<input
				type="file"
				accept={accept}
				className="sr-only"
				onChange={(e) => {
					const file = e.target.files?.[0];
					e.target.value = "";
					if (file) onFile(file);
				}}
			/>
		</label>
	);
}
