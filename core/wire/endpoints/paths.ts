import { endpoint } from '../endpoint.js';
import { questionExample } from '../examples.js';
import { byNumber } from '../params.js';
import { compareAnswer, compareRequest, huntPath, huntPoint, huntPointName, newHuntPoint } from '../paths.js';

export const listPaths = endpoint('get', '/hunt-points', {
  access: 'reader',
  summary: 'Where each of your paths began, the last walked first',
  answer: huntPath,
});

export const notePoint = endpoint('post', '/hunt-points', {
  access: 'reader',
  summary: 'Note a run as a point of a path',
  body: newHuntPoint,
  answer: huntPoint,
  example: {
    question: questionExample,
    rows: 12,
    complete: true,
    bars: [0, 3, 9],
  },
});

export const readPath = endpoint('get', '/hunt-points/:id/path', {
  access: 'reader',
  summary: 'All points of the path that a point is of',
  params: byNumber,
  answer: huntPath,
});

export const namePoint = endpoint('patch', '/hunt-points/:id', {
  access: 'reader',
  summary: 'Name a point, or take its name away',
  params: byNumber,
  body: huntPointName,
  answer: huntPoint,
  example: { name: 'where it began' },
});

export const compareHunts = endpoint('post', '/hunts/compare', {
  access: 'reader',
  summary: 'Run two hunts and tell which rows are new, changed or gone',
  body: compareRequest,
  answer: compareAnswer,
  example: {
    before: questionExample,
    after: questionExample,
  },
});
