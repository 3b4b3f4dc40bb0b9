import { customAlphabet } from 'nanoid';

/** Letters and digits only: an id stands in channel ids and addresses. */
export const newId = customAlphabet('0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz', 16);
