//! The demo team's dashboard: how the year goes, for the office and the wardens.

use crate::{
    ids::{OFFICE, WARDENS, faults as f, orders as o},
    makers::{down, shown, status_open, test},
    person_id,
};
use westerfall_core::{
    condition::{Check, Comparison, Condition, Period, When},
    dashboard::{Dashboard, DashboardOpen, Draws, Line, LineOf, LineRecords, LineSign, Statement, Tile, TileShows, TileView},
    figure::Figure,
    id::{DashboardId, PersonId, TableId, TrackerId},
    team::{DashboardWish, TeamIntent},
    view::{Almanac, AlmanacDate, Bucket, CrossLead, CrossOrder, CrossTab, GroupBy, Query, Shape, Tally},
};

const NAME: &str = "How the paths stand";

/// Who makes the team's dashboard, and how.
pub fn dashboards(upkeep: TrackerId) -> (PersonId, Vec<TeamIntent>) {
    let (id, owner) = (DashboardId::new(1).expect("the first"), person_id(1));
    let tile = |key, width, shows| Tile { key, title: String::new(), width, shows };
    let view = |table, query, draws, most| TileShows::View(Box::new(TileView { tracker: upkeep, table, query, draws, most }));
    let board = Dashboard {
        id,
        name: NAME.to_owned(),
        about: String::new(),
        owner,
        open: DashboardOpen::Groups([WARDENS, OFFICE].into()),
        columns: 3,
        tiles: vec![
            tile(1, 1, TileShows::Statement(statement(upkeep))),
            tile(2, 2, view(f::TABLE, by_month(), Draws::Lines, 12)),
            tile(3, 1, view(o::TABLE, spent(), Draws::Bars, 12)),
            tile(4, 1, view(f::TABLE, open_by_status(), Draws::Table, 12)),
            tile(5, 1, view(f::TABLE, waited_longest(), Draws::Table, 5)),
            tile(6, 1, view(f::TABLE, open_by_severity(), Draws::Parts, 12)),
            tile(7, 1, view(o::TABLE, coming(), Draws::Table, 8)),
            tile(8, 1, view(f::TABLE, work_and_wait(), Draws::Dots, 12)),
        ],
        only: Vec::new(),
    };
    let intents = vec![
        TeamIntent::Dashboard(DashboardWish::Make { name: NAME.to_owned() }),
        TeamIntent::Dashboard(DashboardWish::Keep(Box::new(board))),
    ];
    (owner, intents)
}

/// What came in and what it cost this month, and what is open now.
fn statement(tracker: TrackerId) -> Statement {
    let line = |words: &str, of| Line::of(words, of);
    let count = |table: TableId, condition: Condition| LineRecords { condition, sign: LineSign::Beside, ..LineRecords::of(table) };
    let late = test(&[f::DUE], Check::Day { how: Comparison::Under, than: When::Today(0) });
    let money =
        |field| LineRecords { figure: Some(Tally { field, figure: Figure::Sum }), day: Some(o::FINISHED), ..LineRecords::of(o::TABLE) };
    Statement {
        tracker,
        run: Some(Bucket::Month),
        lines: vec![
            line("faults reported", LineOf::Records(LineRecords { day: Some(f::REPORTED), ..count(f::TABLE, Condition::default()) })),
            line("open now", LineOf::Records(count(f::TABLE, status_open()))),
            line("of these late", LineOf::Records(count(f::TABLE, Condition::All(vec![status_open(), late])))),
            line("late of those open", LineOf::Share { part: 2, whole: 1 }),
            Line {
                target: Some(12.into()),
                ..line("orders finished", LineOf::Records(LineRecords { day: Some(o::FINISHED), ..count(o::TABLE, Condition::default()) }))
            },
            line("what they cost", LineOf::Records(money(o::TOTAL))),
            line("of it materials", LineOf::Records(LineRecords { sign: LineSign::Minus, ..money(o::MATERIALS) })),
            line("labour", LineOf::Total),
            line("cost of each", LineOf::Per { what: 5, each: 4 }),
        ],
    }
}

fn by_month() -> Query {
    Query {
        condition: test(&[f::REPORTED], Check::Within { period: Period::ThisYear }),
        fields: shown(&[(f::TITLE, 300)]),
        shape: Shape::CrossTab(CrossTab {
            across: vec![GroupBy::of(f::SEVERITY)],
            ..CrossTab::by(GroupBy { by: Bucket::Month, ..GroupBy::of(f::REPORTED) })
        }),
        ..Query::default()
    }
}

fn spent() -> Query {
    Query {
        condition: test(&[o::FINISHED], Check::Filled),
        fields: shown(&[(o::FAULTS, 300), (o::NUMBER, 130), (o::FINISHED, 120), (o::TOTAL, 110)]),
        tallies: vec![Tally { field: o::TOTAL, figure: Figure::Sum }],
        shape: Shape::CrossTab(CrossTab { leads: CrossLead::Figure, order: CrossOrder::Most, ..CrossTab::by(GroupBy::of(o::LEADER)) }),
        ..Query::default()
    }
}

fn open_by_status() -> Query {
    Query {
        condition: status_open(),
        fields: shown(&[(f::TITLE, 300), (f::NUMBER, 120), (f::REPORTED, 120)]),
        shape: Shape::CrossTab(CrossTab { across: vec![GroupBy::of(f::STATUS)], ..CrossTab::by(GroupBy::of(f::DISTRICT)) }),
        ..Query::default()
    }
}

fn open_by_severity() -> Query {
    Query {
        condition: status_open(),
        fields: shown(&[(f::TITLE, 300), (f::NUMBER, 120), (f::REPORTED, 120)]),
        shape: Shape::CrossTab(CrossTab::by(GroupBy::of(f::SEVERITY))),
        ..Query::default()
    }
}

fn coming() -> Query {
    Query {
        fields: shown(&[(o::FAULTS, 300), (o::NUMBER, 130), (o::LEADER, 170)]),
        shape: Shape::Calendar(Almanac::by(vec![AlmanacDate::of(o::PLANNED)])),
        ..Query::default()
    }
}

fn work_and_wait() -> Query {
    let fields = shown(&[(f::DAYS_OPEN, 90), (f::HOURS, 90), (f::TITLE, 300)]);
    Query { condition: status_open(), fields, ..Query::default() }
}

fn waited_longest() -> Query {
    Query {
        condition: status_open(),
        sorts: vec![down(f::DAYS_OPEN)],
        fields: shown(&[(f::TITLE, 300), (f::NUMBER, 120), (f::DISTRICT, 120), (f::STATUS, 120), (f::DAYS_OPEN, 90)]),
        ..Query::default()
    }
}
