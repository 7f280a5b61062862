/** Whose session it is. */
export const SESSION_COOKIE = 'crosspeen';
/** Which bay tablet a browser is. */
export const TABLET_COOKIE = 'crosspeen_tablet';
/** Days for which a browser stays a bay tablet. */
export const TABLET_DAYS = 400;
