/** The made-up people of the demo who live outside. Numbers are from ranges kept for drama and tests. */
export const demoMailboxes = [
  'pell.anders@postbox.example',
  'p.anders@islandmail.example',
  'office@saltmarsh.example',
  'records@harbourclinic.example',
  'claims@northquay.example',
  'underwriting@northquay.example',
  'una.pike@skerryfreight.example',
  'lene.hjort@pilots.example',
] as const;

export const demoPhones = [
  { number: '+447700900417', owner: 'Pell Anders' },
  { number: '+447700900262', owner: 'Saltmarsh Yard' },
] as const;
