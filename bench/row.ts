export interface Row {
  what: string;
  value: string;
  aim: string;
}
