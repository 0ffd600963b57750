/** What a medium is as a thing, by its identifier. */
export const forms = {
  '8': '8-inch',
  '5.25': '5¼-inch',
  '3.5': '3½-inch',
  'hard-disk': 'hard disk',
  'optical-disc': 'optical disc',
};
