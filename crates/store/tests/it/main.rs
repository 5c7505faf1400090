//! What is kept, on a real PostgreSQL: nothing lost, nothing twice, and what was cut off is known to be.

#![allow(clippy::cast_possible_truncation, reason = "small figures of its own")]

mod calendars;
mod files;
mod fixture;
mod forms;
mod outbox;
mod team;
mod trackers;
