//! What the team says about its faults.

use crate::{
    Step, Teller, dice,
    ids::{OFFICE, faults as f},
    person_id, stage, words,
};
use jiff::SignedDuration;
use westerfall_core::{
    access::Asker,
    id::{CommentId, RecordId},
    intent::Intent,
    talk::{TalkPart, TalkStep},
};

/// The district whose faults are talked about.
const ESKERMOOR: usize = 0;
const NADIA: u32 = 1;
const TAMSIN: u32 = 2;
const BEX: u32 = 6;

impl Teller {
    /// A few words about two faults of Eskermoor, yesterday and the day before.
    pub(crate) fn talk(&self, count: usize) -> Vec<Step> {
        let there = |n: &usize| words::section_district(dice(*n, 14, words::SECTIONS)) == ESKERMOOR && stage(*n, self.age(*n, count)) < 4;
        let mut open = (0..count.saturating_sub(3)).filter(there).map(RecordId::at_row);
        let (Some(gate), Some(other)) = (open.next(), open.next()) else { return Vec::new() };
        let text = |words: &str| TalkPart::Text(words.to_owned());
        let to = |number: u32| TalkPart::Person(person_id(number));
        let said = [
            (30, NADIA, gate, vec![text("Can the crew take the long bar from the store? "), to(TAMSIN)], None),
            (27, TAMSIN, gate, vec![text("Yes, it is in the van.")], Some(1)),
            (26, BEX, gate, vec![text("The farmer wants a *call* before they come: he moves the heifers.")], None),
            (
                25,
                TAMSIN,
                other,
                vec![text("The same bar would do for "), TalkPart::Record { table: f::TABLE, record: gate }, text(".")],
                None,
            ),
            (24, NADIA, other, vec![text("Then both on one order. "), TalkPart::Group(OFFICE), text(" writes it.")], Some(1)),
        ];
        let step = |(hours, who, record, said, answers): (i64, u32, RecordId, Vec<TalkPart>, Option<u32>)| {
            let step = TalkStep::Say { said, files: Vec::new(), answers: answers.and_then(CommentId::new) };
            let intent = Intent::Talk { table: f::TABLE, record, step };
            Step { at: self.now - SignedDuration::from_hours(hours), ..self.step(1, Asker::Person(person_id(who)), intent) }
        };
        said.into_iter().map(step).collect()
    }
}
