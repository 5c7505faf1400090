//! What was found as a view's condition, so that its rows can be narrowed to it.

use super::{TableHits, Within, term::Term};
use crate::{
    access::Lens,
    condition::{Check, Comparison, Condition, Quantity, Test, TextMatch, When, Who},
    id::{FieldId, TableId},
    schema::Kind,
    value::{Value, fold},
};

impl Lens<'_> {
    /// A condition that holds for records in which each word stands in one of the fields where it was found; none where a word
    /// stands in no field.
    pub(super) fn only_these(&self, table: TableId, terms: &[Term], hits: &TableHits) -> Option<Condition> {
        let of_term = |(term, found): (&Term, &super::rows::TermHits)| {
            let held = found.fields.iter().filter(|held| !held.rows.is_disjoint(&hits.all));
            let tests: Vec<Condition> = held
                .filter_map(|held| if let Within::Field(field) = held.within { self.test_for(table, field, term) } else { None })
                .collect();
            match tests.len() {
                0 => None,
                1 => tests.into_iter().next(),
                _ => Some(Condition::Any(tests)),
            }
        };
        terms.iter().zip(&hits.terms).map(of_term).collect::<Option<Vec<_>>>().map(Condition::All)
    }

    fn test_for(&self, table: TableId, field: FieldId, term: &Term) -> Option<Condition> {
        let def = self.ds.table(table)?.def.field(field)?;
        let (mut path, mut end) = match &def.kind {
            Kind::Carried { links, field } => (links.iter().chain([field]).copied().collect::<Vec<_>>(), self.ds.walk(table, links).ok()),
            _ => (vec![field], None),
        };
        if let Some((from, last)) = end {
            let to = self.ds.table(from)?.link(last)?.to;
            end = Some((to, *path.last()?));
        }
        let (mut home, mut last) = end.unwrap_or((table, field));
        // What names a linked record is asked there; that may be a link again.
        for _ in 0..super::rows::DEEP {
            let def = self.ds.table(home)?.def.field(last)?;
            let Kind::Link(link) = &def.kind else { break };
            let target = self.ds.table(link.to)?;
            last = def.offers.named.filter(|named| self.reads(link.to, *named)).unwrap_or(target.def.standing);
            home = link.to;
            path.push(last);
        }
        let (_, kind) = self.ds.shown_kind(home, last)?;
        let check = self.check_for_term(kind, term)?;
        let test = Condition::Test(Test { path, of: Quantity::Any, check });
        test.check_for(self, table).is_ok().then_some(test)
    }

    fn check_for_term(&self, kind: &Kind, term: &Term) -> Option<Check> {
        let text = || Check::Text { how: TextMatch::Contains, text: term.typed.clone() };
        Some(match kind {
            Kind::Choice { options, .. } | Kind::Choices { options } => {
                let any = options.iter().filter(|o| fold(&o.name).contains(&term.word)).map(|o| o.id).collect();
                Check::Option { not: false, any }
            }
            Kind::Person | Kind::People => {
                let people = self.ds.people.iter().filter(|person| fold(&person.name).contains(&term.word));
                Check::Person { not: false, any: people.map(|person| Who::Person(person.id)).collect() }
            }
            kind if text().fits(kind) => text(),
            Kind::Date | Kind::DateTime | Kind::Range => Check::Day { how: Comparison::Is, than: When::Date(term.day?) },
            kind => match term.as_value(self, kind)? {
                Value::Number(than) => Check::Number { how: Comparison::Is, than },
                _ => return None,
            },
        })
    }
}
