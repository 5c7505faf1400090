//! What stands in people's rounds: faults and inspections with their warden, orders with their crew leader, parties with whoever leads them.

use crate::{
    ids::{STATUSES, districts as d, faults as f, orders as o, parties as p, sections as s},
    parties::STATUSES as PARTY,
};
use jiff::{SignedDuration, Timestamp, ToSpan, civil::Date};
use westerfall_core::{
    rounds::NewTask,
    schema::{Finish, Rounds, TableDef},
};

pub(crate) fn in_rounds(table: TableDef) -> TableDef {
    let rounds = match table.id {
        f::TABLE => Rounds {
            who: vec![f::SECTION, s::DISTRICT, d::WARDEN],
            due: Some(f::DUE),
            done: Finish::Options { field: f::STATUS, any: vec![STATUSES[4], STATUSES[5]] },
            urgency: Some(f::SEVERITY),
            tells: vec![f::NUMBER, f::SECTION],
        },
        s::TABLE => Rounds {
            who: vec![s::DISTRICT, d::WARDEN],
            due: Some(s::NEXT),
            done: Finish::Noted(s::INSPECTED),
            urgency: None,
            tells: vec![s::NUMBER, s::LENGTH],
        },
        o::TABLE => {
            Rounds { who: vec![o::LEADER], due: Some(o::PLANNED), done: Finish::Filled(o::FINISHED), urgency: None, tells: vec![o::FAULTS] }
        }
        p::TABLE => Rounds {
            who: vec![p::LEADER],
            due: Some(p::WHEN),
            done: Finish::Options { field: p::STATUS, any: vec![PARTY[1], PARTY[2]] },
            urgency: None,
            tells: vec![p::NUMBER],
        },
        _ => return table,
    };
    TableDef { rounds: Some(rounds), ..table }
}

/// What people have asked of each other: by whom, what, how many days ago, and whether it is done.
pub struct Asked {
    pub by: westerfall_core::id::PersonId,
    pub asks: NewTask,
    pub made: Timestamp,
    pub done: bool,
}

/// What people have asked of each other up to now.
pub fn tasks(now: Timestamp, today: Date) -> Vec<Asked> {
    let asked = |by: u32, who: u32, what: &str, note: &str, due: i64, ago: i64| Asked {
        by: crate::person_id(by),
        asks: NewTask {
            what: what.into(),
            note: note.into(),
            who: crate::person_id(who),
            due: today.checked_add(due.days()).ok(),
            urgent: false,
            about: None,
        },
        made: now.checked_sub(SignedDuration::from_hours(24 * ago)).unwrap_or(now),
        done: false,
    };
    let [nadia, tamsin, idris, jonah, bex] = [1, 2, 3, 5, 6];
    vec![
        asked(nadia, tamsin, "Write up the work party at Cold Keld", "who came, and what is left for spring", -4, 15),
        asked(nadia, tamsin, "Ring the farmer at Hob Gate before the crew comes", "+44 1632 960118, after four in the afternoon", 2, 0),
        asked(bex, tamsin, "Rake up under the three old pears", "Village orchard, Chapel Row", 0, 1),
        asked(tamsin, jonah, "Lend the long ladder", "", -2, 6),
        asked(tamsin, idris, "Walk Kiln Side after rain", "", 3, 1),
        Asked { done: true, ..asked(tamsin, bex, "Order coach screws", "", 0, 3) },
        asked(nadia, nadia, "Read the parish’s letter on signs", "", 1, 1),
    ]
}
