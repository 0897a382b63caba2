import { router } from 'expo-router';

const FIELD = '[data-find=field]';

/** As soon as the place it stands in is drawn; whoever goes elsewhere meanwhile is left alone. */
function focusField(triesLeft = 60): void {
  const field = document.querySelector<HTMLInputElement>(FIELD);
  if (field !== null) field.select();
  else if (triesLeft > 0) requestAnimationFrame(() => focusField(triesLeft - 1));
}

/** To the one search field, wherever one is. */
export function goFind(): void {
  if (document.querySelector(FIELD) === null) router.push('/mail');
  focusField();
}
