/** Files that become parts: pictures, drawings, models. Contents are kept by the server. */
import { shortName } from '$core/text';
import { toast } from 'svelte-sonner';
import { gltf } from '$core/formats/gltf/format';
import { isNamedLike } from '$core/formats/registry';
import type { Drawing } from '$core/document/types';
import { updatePart } from '$core/edits/parts';
import { api, type ApiProblem } from '$lib/api/client';
import { addDocument } from './add-document';
import { addGroup, addImagePart } from './new-parts';
import type { Space } from '$core/pose/space';
import type { Vec3 } from '$player/maths/vector';
import type { Session } from '$lib/session/session.svelte';

/** What the file chooser offers for each way of taking a file. */
export const ACCEPTED = {
	picture: 'image/png,image/jpeg,image/webp,image/svg+xml',
	drawing: 'image/svg+xml',
	model: [...gltf.extensions, ...gltf.mediaTypes].join(','),
} as const;
export type FileKind = keyof typeof ACCEPTED;

/** Files that become parts, and what is made of them. */
export function filesForParts(space: Space): { kind: FileKind; label: string }[] {
	const made: { kind: FileKind; label: string }[] = [
		{ kind: 'picture', label: 'Picture' },
		{ kind: 'drawing', label: 'Drawing from SVG' },
		{ kind: 'model', label: 'glTF model' },
	];
	return made.filter(({ kind }) => space === 'world' || kind !== 'model');
}

/** A file's name without its ending, as a part is called. */
function nameOf(file: File, otherwise: string): string {
	return shortName(file.name.replace(/\.\w+$/, ''), 100, otherwise);
}

function tell({ title, detail }: ApiProblem): void {
	toast.error(title, { description: detail });
}

/** Width over height of a picture; 1 where it cannot be told. */
async function ratioOf(file: File): Promise<number> {
	const url = URL.createObjectURL(file);
	try {
		const image = new Image();
		image.src = url;
		await image.decode();
		return image.naturalWidth / image.naturalHeight || 1;
	} catch {
		return 1;
	} finally {
		URL.revokeObjectURL(url);
	}
}

async function takePicture(session: Session, file: File, at?: Vec3): Promise<void> {
	const [answer, ratio] = await Promise.all([api.addAsset(session.project.id, file), ratioOf(file)]);
	if (!answer.ok) tell(answer.problem);
	else if (!answer.value.mediaType.startsWith('image/'))
		toast.error('This is no picture', { description: 'Films and sounds go with the clip: see its card.' });
	else addImagePart(session, answer.value.id, nameOf(file, 'picture'), ratio, at);
}

async function takeDrawing(session: Session, file: File, at?: Vec3): Promise<void> {
	try {
		const { drawingsFromSvg } = await import('./svg-drawings');
		const drawn = drawingsFromSvg(await file.text(), session.doc.project.space);
		addGroup(session, nameOf(file, 'drawing'), drawn, at);
	} catch (error) {
		toast.error('This drawing cannot be taken apart', {
			description: error instanceof Error ? error.message : String(error),
		});
	}
}

async function takeModel(session: Session, file: File, at?: Vec3): Promise<void> {
	const done = toast.loading(`Reading ${file.name} …`);
	const answer = await api.addModel(session.project.id, file);
	toast.dismiss(done);
	if (!answer.ok) {
		tell(answer.problem);
		return;
	}
	const { doc, leftOut } = answer.value;
	addDocument(session, nameOf(file, 'model'), doc, at);
	const parts = Object.keys(doc.parts).length;
	const clips = Object.keys(doc.clips).length;
	toast(
		`${parts} ${parts === 1 ? 'part' : 'parts'} and ${clips} ${clips === 1 ? 'clip' : 'clips'} came with it`,
		{
			description: leftOut.length > 0 ? `Left out: ${leftOut.slice(0, 6).join('; ')}` : undefined,
		},
	);
}

/** What the file chooser offers instead of a part's own file. */
export function acceptedFor(drawing: AssetDrawing): string {
	return drawing.kind === 'model' ? ACCEPTED.model : ACCEPTED.picture;
}
type AssetDrawing = Extract<Drawing, { asset: string }>;

/** Draws a part from another file; its place, its size and what moves stay. */
export async function replaceFile(session: Session, part: string, file: File): Promise<void> {
	const { drawing } = session.doc.parts[part];
	if (!('asset' in drawing)) return;
	const next =
		drawing.kind === 'model'
			? await otherModel(session, drawing, file)
			: await otherPicture(session, drawing, file);
	if (next) session.edit('Replace file', (doc) => updatePart(doc, part, { drawing: next }));
}

async function otherPicture(session: Session, drawing: AssetDrawing, file: File): Promise<Drawing | null> {
	const answer = await api.addAsset(session.project.id, file);
	if (!answer.ok) tell(answer.problem);
	else if (!answer.value.mediaType.startsWith('image/')) toast.error('This is no picture');
	else return { ...drawing, asset: answer.value.id };
	return null;
}

/** The mesh with the same number, or the first one. */
async function otherModel(session: Session, drawing: AssetDrawing, file: File): Promise<Drawing | null> {
	const answer = await api.addModel(session.project.id, file);
	if (!answer.ok) {
		tell(answer.problem);
		return null;
	}
	const meshes = Object.values(answer.value.doc.parts)
		.map((own) => own.drawing)
		.filter((own) => own.kind === 'model');
	const same = meshes.find((own) => drawing.kind === 'model' && own.mesh === drawing.mesh) ?? meshes[0];
	if (!same) {
		toast.error('There is nothing to be drawn in this file');
		return null;
	}
	return { ...same, size: drawing.size, offset: drawing.offset };
}

const TAKES: Record<FileKind, (session: Session, file: File, at?: Vec3) => Promise<void>> = {
	picture: takePicture,
	drawing: takeDrawing,
	model: takeModel,
};

/** Makes parts of a file: where it was dropped, or in the middle of the stage. */
export function takeFile(session: Session, kind: FileKind, file: File, at?: Vec3): Promise<void> {
	return TAKES[kind](session, file, at);
}

/** How a file that is dropped is taken; null for what makes no part. */
export function kindOfFile(file: File): FileKind | null {
	if (isNamedLike(gltf, file.name)) return 'model';
	if (/\.svg$/i.test(file.name)) return 'drawing';
	return file.type.startsWith('image/') ? 'picture' : null;
}
