import { travel } from '$lib/server/travel';

export const POST = travel('redo');
