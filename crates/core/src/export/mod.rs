//! What a view shows, for a file: as lines, and as entries of a calendar. What the lens does not give is not in it.

mod calendar;
mod cells;
mod listing;

pub(crate) use calendar::Teller;
pub use calendar::{CalendarEntry, Entries, EntryTime, MOST_ENTRIES};
pub use cells::{Filed, Filing};
pub use listing::{ListedField, ListedFigure, ListedGroup, ListedLine, Listing};
