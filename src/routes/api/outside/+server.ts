import { json } from '@sveltejs/kit';

/** Where other devices find this server; whoever may ask has its token already. */
export function GET(): Response {
	const addresses = (process.env.HILLOCK_OUTSIDE ?? '').split(' ').filter(Boolean);
	return json({ addresses }, { headers: { 'cache-control': 'no-store' } });
}
