//! The API on a real PostgreSQL, through its real router.

#![allow(clippy::cast_possible_truncation, clippy::cast_possible_wrap, clippy::cast_sign_loss, reason = "small figures of its own")]

mod access;
mod areas;
mod automations;
mod building;
mod bulk;
mod calling;
mod contract;
mod crosstabs;
mod dashboards;
mod designing;
mod documents;
mod drafts;
mod exporting;
mod files;
mod fixture;
mod forms;
mod formulas;
mod ground;
mod hostile;
mod lines;
mod live;
mod looks;
mod mail;
mod messages;
mod orders;
mod pages;
mod parts;
mod portraits;
mod problems;
mod records;
mod replies;
mod rounds;
mod sessions;
mod shapes;
mod talk;
mod team;
mod views;
mod working;
