import type { Recipe } from '../recipe-schema.js';

/** Sightings in STIX 2.1 bundles. */
export const stixSightings: Recipe = {
  name: 'stix-sightings',
  title: 'Sightings in STIX 2.1 bundles',
  version: 1,
  format: 'json',
  records: {
    list: 'objects',
  },
  id: 'id',
  logsource: {
    category: 'threat_intel',
    product: 'stix',
  },
  time: {
    from: ['last_seen', 'first_seen', 'modified', 'created'],
    as: 'iso',
  },
  constants: {
    kind: 'finding',
    operation: 'finding',
    outcome: 'unknown',
  },
  map: {
    finding: {
      from: ['sighting_of_ref', 'name'],
    },
    message: 'description',
    records: 'count',
    resource: 'observed_data_refs',
    user_type: 'created_by_ref',
  },
  discard: [
    {
      when: {
        type: [
          'indicator',
          'identity',
          'attack-pattern',
          'malware',
          'tool',
          'campaign',
          'intrusion-set',
          'threat-actor',
          'relationship',
          'marking-definition',
          'observed-data',
          'report',
          'bundle',
          'location',
          'note',
          'infrastructure',
          'vulnerability',
          'course-of-action',
          'grouping',
          'opinion',
          'malware-analysis',
          'extension-definition',
          'language-content',
        ],
      },
      because: 'no sighting',
    },
  ],
};
