import { error } from '@sveltejs/kit';
import { GUIDE_PAGES } from '$lib/ui/guide-pages';

export function load({ params }: { params: { page?: string } }) {
	if (params.page && !(GUIDE_PAGES as readonly string[]).includes(params.page))
		error(404, 'There is no such page in the guide.');
}
