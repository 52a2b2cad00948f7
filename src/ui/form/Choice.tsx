interface Props<T extends string> {
  label: string;
  value: T;
  options: readonly (readonly [value: T, words: string])[];
  onChange(value: T): void;
}

/** One of a few, with its label. */
export function Choice<T extends string>({ label, value, options, onChange }: Props<T>) {
  return (
    <div className="field">
      <label>
        {label}
        <select
          className="text"
          value={value}
          onChange={({ target }) => {
            const chosen = options.find(([id]) => id === target.value);
            if (chosen) onChange(chosen[0]);
          }}
        >
          {options.map(([id, words]) => (
            <option key={id} value={id}>
              {words}
            </option>
          ))}
        </select>
      </label>
    </div>
  );
}
