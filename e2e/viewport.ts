/** The size that screens are designed at, without motion. */
export const VIEWPORT = { viewport: { width: 1280, height: 800 }, reducedMotion: 'reduce' } as const;
