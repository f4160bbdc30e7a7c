/** So many of a long list are asked for at once; more by a button. */
export const AT_ONCE = 50;
