//! Colours of highlights as a sheet has them: as on the screen, in its light ground.

/// How letters are coloured where nothing else is said, and what they stand on.
const INK: u32 = 0x23_261f;
const SHEET: u32 = 0xff_fffe;
/// Letters that step back.
pub(super) const QUIET: u32 = 0x5f_6356;
/// What leads somewhere.
pub(super) const MOSS: u32 = 0x4e_5b1e;
/// How much of a hue is in a ground, and in letters, of a hundred.
const GROUND: u32 = 13;
const LETTERS: u32 = 70;

/// So much of one colour, of a hundred, in another.
fn mixed(of: u32, share: u32, into: u32) -> u32 {
    let part = |shift: u32| {
        let (a, b) = ((of >> shift) & 0xff, (into >> shift) & 0xff);
        ((a * share + b * (100 - share) + 50) / 100) << shift
    };
    part(16) | part(8) | part(0)
}

/// A hue as the ground of a cell.
pub(super) fn ground(hue: u32) -> u32 {
    mixed(hue, GROUND, SHEET)
}

/// A hue as letters.
pub(super) fn letters(hue: u32) -> u32 {
    mixed(hue, LETTERS, INK)
}
