import { isSlip } from './sure.js';

describe('a name that is surely a slip of the pen', () => {
  const rows: [says: string, wanted: string, meant: string, among: string[], isSure: boolean][] = [
    ['one letter too few', 'squeak', 'squeeak', ['squeeak', 'wind'], true],
    ['one letter too many', 'lanttern', 'lantern', ['lantern', 'oil'], true],
    ['another letter', 'lenten', 'lentin', ['lentin'], true],
    ['two letters in each other’s place', 'settel', 'settle', ['settle', 'ask'], true],
    ['other capitals alone', 'Hull', 'hull', ['hull', 'hall'], true],
    ['two letters', 'rope.part', 'rope.parted', ['rope.parted'], false],
    ['another that comes as near', 'gate', 'gates', ['gates', 'grate'], false],
    ['another that is farther off', 'clamp', 'lamp', ['lamp', 'clump_of_reeds'], true],
    ['a number', 'wheel_2', 'wheel_3', ['wheel_3'], false],
    ['a number that is missing', 'wheel', 'wheel2', ['wheel2'], false],
    ['a letter that tells sides apart', 'door_l', 'door_r', ['door_r'], false],
    ['a capital that tells sides apart', 'doorL', 'doorR', ['doorR'], false],
    ['a short name', 'oyl', 'oil', ['oil'], false],
  ];
  for (const [says, wanted, meant, among, isSure] of rows)
    it(`${isSure ? 'is' : 'is not'}: ${says}`, () => {
      expect(isSlip(wanted, meant, among)).toBe(isSure);
    });
});
