import { toLocal } from '@under-lock/core/handling/closing';
import { Choice, Field, Stack } from '@under-lock/ui';
import { zone } from '../../clock';

/** When it leaves: at once, or at a time of the worker's. */
export function LeavingForm({
  sendAt,
  leavesAt,
  now,
  onChange,
}: {
  sendAt: string | undefined;
  leavesAt: Date | undefined;
  now: Date;
  onChange: (sendAt: string | undefined) => void;
}) {
  const [date = '', time = ''] = sendAt?.split('T') ?? [];
  return (
    <Stack>
      <Choice
        label="Leaves"
        value={sendAt === undefined ? 'now' : 'later'}
        onChange={(value) => onChange(value === 'now' ? undefined : toLocal(new Date(now.getTime() + 3_600_000), zone))}
        options={[
          { value: 'now', label: 'At once' },
          {
            value: 'later',
            label: 'Later',
            detail: 'Sealed and waiting here until then; the closing date counts from when it leaves',
          },
        ]}
      />
      {sendAt === undefined ? null : (
        <>
          <Field
            label="Day it leaves"
            inputType="date"
            value={date}
            onChangeText={(next) => onChange(`${next || date}T${time}`)}
            min={toLocal(now, zone).slice(0, 10)}
          />
          <Field
            label="Time it leaves"
            inputType="time"
            value={time}
            onChangeText={(next) => onChange(`${date}T${next || time}`)}
            error={leavesAt === undefined ? 'That moment has passed.' : undefined}
          />
        </>
      )}
    </Stack>
  );
}
