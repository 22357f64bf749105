import type { JSX } from 'react';

const examples: readonly { title: string; text: string }[] = [
  {
    title: 'Failed sign-ins from outside, as they come',
    text: "from signin\nwhere outcome = 'failure'\nwhere src_ip not within '10.0.0.0/8'",
  },
  {
    title: 'Who fails most, and from how many addresses',
    text: "from signin\nwhere outcome = 'failure'\ntally count() as failures, count(distinct src_ip) as addresses, last(reason) as reason per user\nsort failures desc",
  },
  {
    title: 'Countries by hour',
    text: 'from signin\ntally count() as events, count(distinct user) as users per country, every 1h\nsort users desc',
  },
  {
    title: 'Acting with the rights of another',
    text: 'from acting\nshow time, user, acting_as, host, outcome, command_line',
  },
];

/** Hunts to begin with. */
export function Examples({ onChoose }: { onChoose: (text: string) => void }): JSX.Element {
  return (
    <>
      <div className="sub-head ruled">
        <h2 className="section-head">To begin with</h2>
      </div>
      {examples.map(({ title, text }) => (
        <div key={title} className="row-line">
          <button type="button" className="link" onClick={() => onChoose(text)}>
            {title}
          </button>
        </div>
      ))}
    </>
  );
}
