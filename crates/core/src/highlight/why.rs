//! Why something looks as it does: effect by effect, by which highlight, and what others wanted instead.

use super::{
    Look,
    worn::{Rank, ranked},
};
use crate::{
    access::Lens,
    condition::Condition,
    id::{FieldId, HighlightId, RecordId, TableId},
    value::list_text,
};
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;

/// Why a cell looks as it does.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct WhyLook {
    pub lines: Vec<LookLine>,
    /// Where nothing is set: that, in words.
    pub says: String,
}

/// One thing that is set, and by what.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct LookLine {
    /// *rowan and bold*.
    pub looks: String,
    /// The number of the highlight that sets it.
    pub by: u32,
    /// *due is before today*.
    pub when: String,
    /// Which others wanted something else, and why they did not get it.
    pub others: Vec<String>,
    /// What one could do about it, where others wanted something else.
    pub mends: Vec<LookMend>,
}

/// Something that would make it look otherwise.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct LookMend {
    /// *put 3 above 2*.
    pub says: String,
    pub highlight: HighlightId,
    pub step: MendStep,
}

/// What is done to a highlight.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum MendStep {
    /// It is put at this place, from 0.
    Move(usize),
    /// Its condition is this.
    Narrow(Condition),
}

/// Which part of a look each effect is, so that two are known to want the same.
const PARTS: [&str; 9] = ["ink", "bold", "italic", "struck", "size", "fill", "edge", "sign", "word"];

impl Lens<'_> {
    /// Why what stands in a field looks as it does.
    pub fn why_look(&self, table: TableId, record: RecordId, field: FieldId, without: &BTreeSet<HighlightId>) -> Option<WhyLook> {
        if !self.shows(table, record, field) {
            return None;
        }
        let looks = self.looks(table, without);
        let acting = looks.acting(record);
        let rules: Vec<(Rank, Look, u32)> = ranked(&acting)
            .into_iter()
            .filter(|(_, touch, _)| touch.fields.is_empty() || touch.fields.contains(&field))
            .map(|(rank, touch, number)| (rank, touch.look.clone(), number))
            .collect();
        let mut lines: Vec<LookLine> = Vec::new();
        for part in PARTS {
            let mut wanting = rules.iter().filter_map(|(rank, look, number)| {
                let effect = look.effects().into_iter().find(|effect| effect.part == part)?;
                Some((*rank, effect.words, *number))
            });
            let Some((rank, words, number)) = wanting.next() else { continue };
            let lost: Vec<(Rank, String, u32)> = wanting.filter(|(_, wanted, _)| *wanted != words).collect();
            let mends = self.look_mends(table, record, field, (rank, number), &lost);
            let others = lost.into_iter().map(|(other, wanted, by)| {
                let reason = match (rank, other) {
                    (Rank::Field | Rank::StandingField, Rank::Record | Rank::StandingRecord) => {
                        "a field’s own highlight goes before the whole record’s"
                    }
                    (_, Rank::StandingField | Rank::StandingRecord) if rank < other => "what holds now goes before how it always looks",
                    _ => "it stands below",
                };
                format!("{by} wants it {wanted}, but {reason}.")
            });
            let others: Vec<String> = others.collect();
            match lines.iter_mut().find(|line| line.by == number && others.is_empty() && line.others.is_empty()) {
                Some(line) => line.looks = list_text(&[line.looks.clone(), words], "and"),
                None => lines.push(LookLine { looks: words, by: number, when: String::new(), others, mends }),
            }
        }
        for line in &mut lines {
            let of = acting.iter().find(|one| one.number == line.by);
            line.when = of.map_or_else(String::new, |one| one.when.clone());
        }
        let says = if lines.is_empty() { "No highlight touches it: it looks as everything does.".to_owned() } else { String::new() };
        Some(WhyLook { lines, says })
    }

    /// What those who build could do where one highlight won over others.
    fn look_mends(
        &self,
        table: TableId,
        record: RecordId,
        field: FieldId,
        won: (Rank, u32),
        lost: &[(Rank, String, u32)],
    ) -> Vec<LookMend> {
        if !self.builds() || lost.is_empty() {
            return Vec::new();
        }
        let all = self.highlights(table, &BTreeSet::new());
        let of = |number: u32| all.iter().find(|(known, _)| *known == number).map(|(_, highlight)| *highlight);
        let Some(winner) = of(won.1) else { return Vec::new() };
        let place = all.iter().position(|(known, _)| *known == won.1).unwrap_or(0);
        // Only between rules of one rank does the order decide.
        let moved = lost.iter().filter(|(rank, ..)| *rank == won.0).filter_map(|(.., number)| {
            let says = format!("put {number} above {}", won.1);
            Some(LookMend { says, highlight: of(*number)?.id, step: MendStep::Move(place) })
        });
        let narrowed = self.likeness(table, record, field).filter(|_| !winner.is_standing()).map(|like| {
            let parts = match &winner.condition {
                Condition::All(parts) => parts.clone(),
                other => vec![other.clone()],
            };
            let condition = Condition::All(parts.into_iter().chain([like.others]).collect());
            LookMend {
                says: format!("leave out of {} where {}", won.1, like.only_words),
                highlight: winner.id,
                step: MendStep::Narrow(condition),
            }
        });
        moved.chain(narrowed).collect()
    }
}
