/** Whether there is room for one thing beside another: a phone, or a page that is zoomed far. */
import { MediaQuery } from 'svelte/reactivity';

export const narrow = new MediaQuery('max-width: 767px', false);
