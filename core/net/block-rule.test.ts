import { narrowBlockRule } from './block-rule.js';

it.each([
  [
    { protocol: 'UDP', src_ip: '10.20.3.9', dst_ip: '203.0.113.77', dst_port: 53 },
    'block udp from 10.20.3.9 to 203.0.113.77 port 53',
  ],
  [{ dst_ip: '2001:db8::7' }, 'block from any to 2001:db8::7'],
  [{ src_ip: '198.18.40.7', dst_port: 0 }, 'block from 198.18.40.7 to any'],
  // Log content is hostile: nothing of it becomes a rule but what it should be.
  [{ dst_ip: '203.0.113.77', protocol: 'udp\nblock from any to any' }, 'block from any to 203.0.113.77'],
  [{ dst_ip: '203.0.113.77', src_ip: 'any; drop' }, 'block from any to 203.0.113.77'],
  [{ dst_ip: '203.0.113.77', dst_port: 1.5 }, 'block from any to 203.0.113.77'],
  [{ protocol: 'tcp', dst_port: 443 }, null],
])('%j', (traffic, text) => expect(narrowBlockRule(traffic)).toBe(text));
