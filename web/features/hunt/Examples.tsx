import type { JSX } from 'react';

/** One that asks a list is offered where there is that list. */
const examples: readonly { title: string; text: string; list?: string }[] = [
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
    title: 'Success from outside, with department and day of leaving',
    text: "from signin\nwhere outcome = 'success'\nwhere src_ip not within '10.0.0.0/8'\nlook up user in list people\nshow time, user, people.department, people.left_on, country, src_ip",
    list: 'people',
  },
  {
    title: 'Acting with the rights of another',
    text: 'from acting\nshow time, user, acting_as, host, outcome, command_line',
  },
];

/** Hunts to begin with. */
export function Examples({
  lists,
  onChoose,
}: {
  lists: readonly string[];
  onChoose: (text: string) => void;
}): JSX.Element {
  const offered = examples.filter(({ list }) => list === undefined || lists.includes(list));
  return (
    <>
      <div className="sub-head ruled">
        <h2 className="section-head">To begin with</h2>
      </div>
      {offered.map(({ title, text }) => (
        <div key={title} className="row-line">
          <button type="button" className="link" onClick={() => onChoose(text)}>
            {title}
          </button>
        </div>
      ))}
    </>
  );
}
