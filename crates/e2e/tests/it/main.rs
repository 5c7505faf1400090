//! What people do with Westerfall, done in a browser.

#![allow(clippy::cast_possible_truncation, clippy::cast_possible_wrap, clippy::cast_sign_loss, reason = "small figures of its own")]

mod access;
mod areas;
mod build;
mod calculations;
mod design;
mod durability;
mod forms;
mod rows;
mod sentence;
mod shapes;
mod sharing;
mod story;
mod team;
