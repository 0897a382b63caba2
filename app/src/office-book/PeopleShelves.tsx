import { ShelfBar } from '../shell/ShelfBar';

/** One's own people, and the office's. */
export const PeopleShelves = ({ here }: { here: 'own' | 'office' }) => (
  <ShelfBar
    label="People"
    here={here}
    shelves={[
      { key: 'own', label: 'Your own', href: '/people' },
      { key: 'office', label: 'Office', href: '/people/office' },
    ]}
  />
);
