import { freshKey } from "../api/client";
import { useRecord } from "../api/outbox";

/** Keeps a photo of a job, with a signal or without, and answers its key. Of a whole side, or of what is printed, more pixels are kept: `large`. */
export function usePhoto(job: string, large = false) {
	const send = useRecord();
	return async (file: File) => {
		const photo = freshKey();
		await send({ kind: "photo", job, photo, file, large });
		return photo;
	};
}
