//! How far something long has come, told to whoever waits for it; and whether it shall go on.

/// Whoever waits for something long.
pub trait Pace {
    /// So many steps are done, of so many that are known of by now. Gives whether it shall go on.
    fn goes_on(&self, done: usize, of: usize) -> bool;
}

/// Nobody waits, and nobody stops it.
impl Pace for () {
    fn goes_on(&self, _done: usize, _of: usize) -> bool {
        true
    }
}

/// It was stopped: nothing of it is to be kept.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Stopped;
