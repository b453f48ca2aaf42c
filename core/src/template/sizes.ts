/** Frame sizes that the trade uses, px, by the name people say. */
export const commonSizes: { name: string; width: number; height: number }[] = [
  { name: 'HD, 1920 × 1080', width: 1920, height: 1080 },
  { name: 'UHD, 3840 × 2160', width: 3840, height: 2160 },
  { name: 'HD 720, 1280 × 720', width: 1280, height: 720 },
  { name: 'upright, 1080 × 1920', width: 1080, height: 1920 },
  { name: 'square, 1080 × 1080', width: 1080, height: 1080 },
  { name: '4:3, 1440 × 1080', width: 1440, height: 1080 },
]
