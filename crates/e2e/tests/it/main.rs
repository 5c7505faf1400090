//! What people do with Westerfall, done in a browser.

mod access;
mod build;
mod calculations;
mod design;
mod durability;
mod forms;
mod rows;
mod sentence;
mod story;
