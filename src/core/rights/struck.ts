/** The rights of what our own instruments play. */
export const STRUCK_RIGHTS = {
  rightsKind: 'cc0',
  rightsOwner: '',
  rightsText: 'Made by the struck voice of Undercroft; free to use in any way.',
} as const;
