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

/// Nobody waits long: what comes to more steps than these is not worked out.
#[derive(Clone, Copy, Debug)]
pub struct AtMost(pub usize);

impl Pace for AtMost {
    fn goes_on(&self, done: usize, of: usize) -> bool {
        done.max(of) <= self.0
    }
}

/// It was stopped: nothing of it is to be kept.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Stopped;
