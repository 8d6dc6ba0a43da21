import { freshKey, type Schemas } from "../api/client";
import { useRecord } from "../api/outbox";

/** Keeps a photo of a job, with a signal or without, and answers its key. Of a whole side more pixels are kept: `large`. */
export function usePhoto(job: string, large = false) {
	const send = useRecord();
	return async (file: File) => {
		const photo = freshKey();
		await send({ kind: "photo", job, photo, file, large });
		return photo;
	};
}

/** Keeps print art as it is given: a picture, a PDF or an SVG. Answers its key and how large it is, where the server has it by now. */
export function usePrintArt(job: string) {
	const send = useRecord();
	return async (file: File) => {
		const photo = freshKey();
		const outcome = await send({ kind: "photo", job, photo, file, print: true });
		return { photo, size: outcome.sent ? (outcome.answer as Schemas["PhotoView"]) : null };
	};
}
