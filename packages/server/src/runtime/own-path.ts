/** A path of ours; anything else leads home. */
export const ownPath = (path: string | undefined): string =>
  path !== undefined && /^\/(?![/\\])[\w\-/.?=&%]*$/.test(path) ? path : '/';
