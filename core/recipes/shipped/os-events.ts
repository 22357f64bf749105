import type { Recipe } from '../recipe-schema.js';

/** Event records of the operating system (sign-ins, processes, services, tasks, groups, scripts, sensor). */
export const osEvents: Recipe = {
  name: 'os-events',
  title:
    'Event records of the operating system (sign-ins, processes, services, tasks, groups, scripts, sensor)',
  version: 1,
  format: 'os-event-xml',
  logsource: {
    product: 'windows',
  },
  time: {
    from: 'SystemTime',
    as: 'iso',
  },
  constants: {
    kind: 'system',
  },
  map: {
    event_code: 'EventID',
    host: {
      from: 'Computer',
      until: '.',
    },
  },
  cases: [
    {
      when: {
        EventID: '4624',
      },
      set: {
        kind: 'signin',
        operation: 'session.start',
        outcome: 'success',
      },
      map: {
        user: 'TargetUserName',
        src_ip: 'IpAddress',
        logon_type: {
          from: 'LogonType',
          values: {
            '2': '2: at the desk',
            '3': '3: over the network',
            '5': '5: as a service',
            '10': '10: remote desktop',
          },
        },
      },
    },
    {
      when: {
        EventID: '4625',
      },
      set: {
        kind: 'signin',
        operation: 'session.start',
        outcome: 'failure',
      },
      map: {
        user: 'TargetUserName',
        src_ip: 'IpAddress',
        status_code: 'SubStatus',
        reason: {
          from: 'SubStatus',
          values: {
            '0xC000006A': 'wrong password',
            '0xC0000064': 'no such user',
            '0xC0000072': 'account disabled',
            '0xC0000234': 'account locked',
          },
        },
        logon_type: {
          from: 'LogonType',
          values: {
            '2': '2: at the desk',
            '3': '3: over the network',
            '5': '5: as a service',
            '10': '10: remote desktop',
          },
        },
      },
    },
    {
      when: {
        EventID: '4648',
      },
      set: {
        kind: 'acting',
        operation: 'acting.start',
        outcome: 'unknown',
      },
      map: {
        user: 'SubjectUserName',
        acting_as: 'TargetUserName',
        process_path: 'ProcessName',
      },
    },
    {
      when: {
        EventID: '4688',
      },
      set: {
        kind: 'process',
        operation: 'process.start',
        outcome: 'success',
      },
      map: {
        user: 'SubjectUserName',
        process_path: 'NewProcessName',
        process_id: 'NewProcessId',
        command_line: 'CommandLine',
        parent_process: 'ParentProcessName',
        elevation: {
          from: 'TokenElevationType',
          values: {
            '%%1936': 'default',
            '%%1937': 'full',
            '%%1938': 'limited',
          },
        },
      },
    },
    {
      when: {
        EventID: '4104',
      },
      set: {
        kind: 'process',
        operation: 'script.run',
        outcome: 'success',
      },
      map: {
        command_line: 'ScriptBlockText',
        process_path: 'Path',
      },
    },
    {
      when: {
        EventID: '7045',
      },
      set: {
        kind: 'process',
        operation: 'service.install',
        outcome: 'success',
      },
      map: {
        service: 'ServiceName',
        process_path: 'ImagePath',
        user: 'SubjectUserName',
        src_host: 'InstalledFrom',
      },
    },
    {
      when: {
        EventID: '4732',
      },
      set: {
        kind: 'rights',
        operation: 'group.add',
        outcome: 'success',
      },
      map: {
        user: 'SubjectUserName',
        target_user: 'MemberName',
        group_name: 'TargetUserName',
      },
    },
    {
      when: {
        EventID: '11707',
      },
      set: {
        kind: 'software',
        operation: 'software.install',
        outcome: 'success',
      },
      map: {
        user: 'SubjectUserName',
        user_id: 'SubjectUserSid',
        application: 'ProductName',
      },
    },
    {
      when: {
        EventID: '1102',
      },
      set: {
        kind: 'log',
        operation: 'log.cleared',
        outcome: 'success',
        severity: 'high',
      },
      map: {
        user: 'SubjectUserName',
      },
    },
    {
      when: {
        EventID: ['4634', '4647'],
      },
      set: {
        kind: 'signin',
        operation: 'session.end',
        outcome: 'success',
      },
      map: {
        user: 'TargetUserName',
        logon_type: {
          from: 'LogonType',
          values: {
            '2': '2: at the desk',
            '3': '3: over the network',
            '5': '5: as a service',
            '10': '10: remote desktop',
          },
        },
      },
    },
    {
      when: {
        EventID: '4697',
      },
      set: {
        kind: 'process',
        operation: 'service.install',
        outcome: 'success',
      },
      map: {
        user: 'SubjectUserName',
        service: 'ServiceName',
        process_path: 'ServiceFileName',
      },
    },
    {
      when: {
        EventID: '4698',
      },
      set: {
        kind: 'process',
        operation: 'task.create',
        outcome: 'success',
      },
      map: {
        user: 'SubjectUserName',
        service: 'TaskName',
        command_line: 'TaskContent',
      },
    },
    {
      when: {
        EventID: '4699',
      },
      set: {
        kind: 'process',
        operation: 'task.delete',
        outcome: 'success',
      },
      map: {
        user: 'SubjectUserName',
        service: 'TaskName',
      },
    },
    {
      when: {
        EventID: '4702',
      },
      set: {
        kind: 'process',
        operation: 'task.update',
        outcome: 'success',
      },
      map: {
        user: 'SubjectUserName',
        service: 'TaskName',
        command_line: 'TaskContentNew',
      },
    },
    {
      when: {
        EventID: '4689',
      },
      set: {
        kind: 'process',
        operation: 'process.end',
        outcome: 'success',
      },
      map: {
        user: 'SubjectUserName',
        process_path: 'ProcessName',
        process_id: 'ProcessId',
      },
    },
    {
      when: {
        EventID: '4720',
      },
      set: {
        kind: 'account',
        operation: 'account.create',
        outcome: 'success',
      },
      map: {
        user: 'SubjectUserName',
        target_user: 'TargetUserName',
        target_id: 'TargetSid',
      },
    },
    {
      when: {
        EventID: '4722',
      },
      set: {
        kind: 'account',
        operation: 'account.enable',
        outcome: 'success',
      },
      map: {
        user: 'SubjectUserName',
        target_user: 'TargetUserName',
        target_id: 'TargetSid',
      },
    },
    {
      when: {
        EventID: ['4723'],
      },
      set: {
        kind: 'account',
        operation: 'password.change',
        outcome: 'unknown',
      },
      map: {
        user: 'SubjectUserName',
        target_user: 'TargetUserName',
        target_id: 'TargetSid',
      },
    },
    {
      when: {
        EventID: '4724',
      },
      set: {
        kind: 'account',
        operation: 'password.reset',
        outcome: 'unknown',
      },
      map: {
        user: 'SubjectUserName',
        target_user: 'TargetUserName',
        target_id: 'TargetSid',
      },
    },
    {
      when: {
        EventID: '4725',
      },
      set: {
        kind: 'account',
        operation: 'account.disable',
        outcome: 'success',
      },
      map: {
        user: 'SubjectUserName',
        target_user: 'TargetUserName',
        target_id: 'TargetSid',
      },
    },
    {
      when: {
        EventID: '4726',
      },
      set: {
        kind: 'account',
        operation: 'account.delete',
        outcome: 'success',
      },
      map: {
        user: 'SubjectUserName',
        target_user: 'TargetUserName',
        target_id: 'TargetSid',
      },
    },
    {
      when: {
        EventID: '4738',
      },
      set: {
        kind: 'account',
        operation: 'account.change',
        outcome: 'success',
      },
      map: {
        user: 'SubjectUserName',
        target_user: 'TargetUserName',
        target_id: 'TargetSid',
      },
    },
    {
      when: {
        EventID: '4740',
      },
      set: {
        kind: 'account',
        operation: 'account.lock',
        outcome: 'success',
      },
      map: {
        user: 'SubjectUserName',
        target_user: 'TargetUserName',
        target_id: 'TargetSid',
      },
    },
    {
      when: {
        EventID: '4767',
      },
      set: {
        kind: 'account',
        operation: 'account.unlock',
        outcome: 'success',
      },
      map: {
        user: 'SubjectUserName',
        target_user: 'TargetUserName',
        target_id: 'TargetSid',
      },
    },
    {
      when: {
        EventID: '4781',
      },
      set: {
        kind: 'account',
        operation: 'account.rename',
        outcome: 'success',
      },
      map: {
        user: 'SubjectUserName',
        target_user: 'NewTargetUserName',
        target_id: 'TargetSid',
      },
    },
    {
      when: {
        EventID: ['4728', '4756'],
      },
      set: {
        kind: 'rights',
        operation: 'group.add',
        outcome: 'success',
      },
      map: {
        user: 'SubjectUserName',
        target_user: 'MemberName',
        group_name: 'TargetUserName',
      },
    },
    {
      when: {
        EventID: ['4729', '4733', '4757'],
      },
      set: {
        kind: 'rights',
        operation: 'group.remove',
        outcome: 'success',
      },
      map: {
        user: 'SubjectUserName',
        target_user: 'MemberName',
        group_name: 'TargetUserName',
      },
    },
    {
      when: {
        EventID: ['4704', '4717'],
      },
      set: {
        kind: 'rights',
        operation: 'rights.grant',
        outcome: 'success',
      },
      map: {
        user: 'SubjectUserName',
        target_id: 'TargetSid',
      },
    },
    {
      when: {
        EventID: ['4705', '4718'],
      },
      set: {
        kind: 'rights',
        operation: 'rights.revoke',
        outcome: 'success',
      },
      map: {
        user: 'SubjectUserName',
        target_id: 'TargetSid',
      },
    },
    {
      when: {
        EventID: '4739',
      },
      set: {
        kind: 'rights',
        operation: 'policy.change',
        outcome: 'success',
      },
      map: {
        user: 'SubjectUserName',
      },
    },
    {
      when: {
        EventID: '4719',
      },
      set: {
        kind: 'log',
        operation: 'audit.changed',
        outcome: 'success',
      },
      map: {
        user: 'SubjectUserName',
      },
    },
    {
      when: {
        EventID: '1100',
      },
      set: {
        kind: 'log',
        operation: 'audit.stopped',
        outcome: 'success',
        severity: 'medium',
      },
      map: {},
    },
    {
      when: {
        EventID: '104',
      },
      set: {
        kind: 'log',
        operation: 'log.cleared',
        outcome: 'success',
        severity: 'high',
      },
      map: {
        user: 'SubjectUserName',
      },
    },
    {
      when: {
        EventID: '11724',
      },
      set: {
        kind: 'software',
        operation: 'software.remove',
        outcome: 'success',
      },
      map: {
        user: 'SubjectUserName',
        application: 'ProductName',
      },
    },
    {
      when: {
        EventID: '11708',
      },
      set: {
        kind: 'software',
        operation: 'software.install',
        outcome: 'failure',
      },
      map: {
        user: 'SubjectUserName',
        application: 'ProductName',
      },
    },
    {
      when: {
        EventID: '1',
        Image: '*',
      },
      set: {
        kind: 'process',
        operation: 'process.start',
        outcome: 'success',
      },
      map: {
        user: 'User',
        process_path: 'Image',
        process_id: 'ProcessId',
        command_line: 'CommandLine',
        parent_process: 'ParentImage',
        hashes: 'Hashes',
      },
    },
    {
      when: {
        EventID: '3',
        DestinationIp: '*',
      },
      set: {
        kind: 'network',
        operation: 'flow',
        outcome: 'allowed',
      },
      map: {
        user: 'User',
        process_path: 'Image',
        src_ip: 'SourceIp',
        src_port: 'SourcePort',
        src_host: 'SourceHostname',
        dst_ip: 'DestinationIp',
        dst_port: 'DestinationPort',
        dst_host: 'DestinationHostname',
        protocol: 'Protocol',
      },
    },
    {
      when: {
        EventID: '5',
        Image: '*',
      },
      set: {
        kind: 'process',
        operation: 'process.end',
        outcome: 'success',
      },
      map: {
        user: 'User',
        process_path: 'Image',
        process_id: 'ProcessId',
      },
    },
    {
      when: {
        EventID: ['11', '15', '23', '26'],
        TargetFilename: '*',
      },
      set: {
        kind: 'object',
        operation: 'object.write',
        outcome: 'success',
      },
      map: {
        user: 'User',
        process_path: 'Image',
        resource: 'TargetFilename',
        hashes: 'Hashes',
      },
    },
    {
      when: {
        EventID: ['12', '13', '14'],
        TargetObject: '*',
      },
      set: {
        kind: 'system',
        operation: 'registry.change',
        outcome: 'success',
      },
      map: {
        user: 'User',
        process_path: 'Image',
        resource: 'TargetObject',
        message: 'Details',
      },
    },
    {
      when: {
        EventID: '22',
        QueryName: '*',
      },
      set: {
        kind: 'dns',
        operation: 'dns.query',
        outcome: 'unknown',
      },
      map: {
        user: 'User',
        process_path: 'Image',
        resource: 'QueryName',
        message: 'QueryResults',
      },
    },
    {
      when: {
        EventID: ['7', '6'],
        ImageLoaded: '*',
      },
      set: {
        kind: 'process',
        operation: 'module.load',
        outcome: 'success',
      },
      map: {
        user: 'User',
        process_path: 'Image',
        resource: 'ImageLoaded',
        hashes: 'Hashes',
      },
    },
    {
      when: {
        EventID: ['8', '10'],
        TargetImage: '*',
      },
      set: {
        kind: 'process',
        operation: 'process.access',
        outcome: 'success',
      },
      map: {
        user: 'SourceUser',
        process_path: 'SourceImage',
        resource: 'TargetImage',
      },
    },
  ],
  lookups: [
    {
      list: 'networks',
      by: 'src_ip',
      set: {
        country: 'country',
        city: 'city',
        lat: 'lat',
        lon: 'lon',
        asn: 'asn',
        as_name: 'as_name',
      },
    },
  ],
};
