//! What people do with Westerfall, done in a browser.

#![allow(clippy::cast_possible_truncation, clippy::cast_possible_wrap, clippy::cast_sign_loss, reason = "small figures of its own")]

mod access;
mod adding;
mod answering;
mod areas;
mod automations;
mod blocks;
mod build;
mod bulk;
mod calculations;
mod design;
mod durability;
mod exporting;
mod files;
mod finding;
mod following;
mod forms;
mod highlights;
mod hours;
mod orders;
mod printing;
mod reporting;
mod rows;
mod sentence;
mod shapes;
mod sharing;
mod story;
mod team;
mod working;
