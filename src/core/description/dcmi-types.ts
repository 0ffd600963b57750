/** The DCMI Type Vocabulary (DCMI Metadata Terms, 7): what kind of thing is described. */
export const DCMI_TYPES = Object.freeze([
  'Collection',
  'Dataset',
  'Event',
  'Image',
  'InteractiveResource',
  'MovingImage',
  'PhysicalObject',
  'Service',
  'Software',
  'Sound',
  'StillImage',
  'Text',
]);

export const isDcmiType = (value: string): boolean => DCMI_TYPES.includes(value);
