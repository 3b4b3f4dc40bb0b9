/** What such a file says that it is. */
export const MARK = 'hillock-web-animations';
