/** How faces are drawn in space by what they do with light: a token of the theme, and how much is seen through them. */
export const FACE_LOOKS = {
  clear: { colour: '--glass-3', opacity: 0.34 },
  mirror: { colour: '--muted', opacity: 0.7 },
  white: { colour: '--card', opacity: 0.75 },
  black: { colour: '--muted', opacity: 0.06 },
} as const;
