import { retrace } from '$lib/server/retrace';

export const POST = retrace('redo');
