//! From a cell: only records like this one, or only the others.

use crate::{
    access::Lens,
    condition::{Check, Comparison, Condition, Quantity, Test, TextMatch, When, Who},
    id::{FieldId, RecordId, TableId},
    value::Cell,
};
use serde::{Deserialize, Serialize};

/// The two ways in which a view is narrowed from a cell.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Likeness {
    /// *status is checked*.
    pub only_words: String,
    pub only: Condition,
    /// *status is not checked*.
    pub others_words: String,
    pub others: Condition,
}

impl Lens<'_> {
    /// What holds of records like this one in a field, and what of the others; nothing where a cell is no ground to narrow by.
    pub fn likeness(&self, table: TableId, record: RecordId, field: FieldId) -> Option<Likeness> {
        let (only, others) = self.shows(table, record, field).then(|| checks(self, table, record, field))??;
        let test = |check: Check| Condition::Test(Test { path: vec![field], of: Quantity::Any, check });
        let (only, others) = (test(only), test(others));
        // What can't be asked of the field is not offered.
        let fits = only.check(self.dataset(), table).is_ok() && others.check(self.dataset(), table).is_ok();
        let words = |condition: &Condition| condition.to_sentence(self, table);
        fits.then(|| Likeness { only_words: words(&only), others_words: words(&others), only, others })
    }
}

/// What holds of such a cell alone, and what of all others.
fn checks(lens: &Lens<'_>, table: TableId, record: RecordId, field: FieldId) -> Option<(Check, Check)> {
    let reader = lens.reader(table, field);
    let cell = reader.cell(record.row());
    let both = |check: fn(bool) -> Check| Some((check(false), check(true)));
    if reader.is_empty(cell) {
        return both(|others| if others { Check::Filled } else { Check::Empty });
    }
    let options = |any: Vec<_>| (Check::Option { not: false, any: any.clone() }, Check::Option { not: true, any });
    let people = |any: Vec<_>| (Check::Person { not: false, any: any.clone() }, Check::Person { not: true, any });
    let compared = |check: &dyn Fn(Comparison) -> Check| (check(Comparison::Is), check(Comparison::IsNot));
    match cell {
        Cell::Choice(option) => Some(options(vec![option])),
        Cell::Choices([option, ..]) => Some(options(vec![*option])),
        Cell::Person(person) => Some(people(vec![Who::Person(person)])),
        Cell::People([person, ..]) => Some(people(vec![Who::Person(*person)])),
        Cell::Links(records) => {
            let any: Vec<RecordId> = reader.visible(records).take(1).collect();
            Some((Check::Record { not: false, any: any.clone() }, Check::Record { not: true, any }))
        }
        Cell::Text(text) => {
            let check = |how| Check::Text { how, text: text.to_owned() };
            Some((check(TextMatch::Is), check(TextMatch::IsNot)))
        }
        Cell::Number(than) => Some(compared(&|how| Check::Number { how, than })),
        Cell::Date(day) => Some(compared(&|how| Check::Day { how, than: When::Date(day) })),
        Cell::Instant(at) => {
            let day = at.to_zoned(lens.clock().zone.clone()).date();
            Some(compared(&|how| Check::Day { how, than: When::Date(day) }))
        }
        Cell::Range(start, _) => Some(compared(&|how| Check::Day { how, than: When::Date(start) })),
        Cell::Logical(yes) => Some(if yes { (Check::Yes, Check::No) } else { (Check::No, Check::Yes) }),
        Cell::Error(_) => None,
        Cell::Choices([]) | Cell::People([]) | Cell::Empty => None,
        Cell::Web(_) | Cell::Place(_) | Cell::Files(_) | Cell::Checklist(_) | Cell::Json(_) => None,
    }
}
