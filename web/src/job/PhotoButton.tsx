/** Takes a photo or a file of one. */
export function PhotoButton({ label, onPhoto }: { label: string; onPhoto: (file: File) => void }) {
	return (
		<label className="flex min-h-11 max-w-full cursor-pointer items-center truncate rounded border border-soft bg-paper px-4 focus-within:outline-3 focus-within:outline-measure">
			{label}
			<input
				type="file"
				accept="image/jpeg,image/png,image/webp"
				className="sr-only"
				onChange={(e) => {
					const file = e.target.files?.[0];
					if (file) onPhoto(file);
					e.target.value = "";
				}}
			/>
		</label>
	);
}
