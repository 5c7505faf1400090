//! Many new records at once, field by field.

use super::{Decider, Numbers, number_text};
use crate::{
    history::{Op, Rows},
    id::{FieldId, RecordId},
    schema::{Kind, Preset, TableDef},
    value::Value,
};

impl Decider<'_> {
    /// New records of a table, there or about to be made, with these values, filled up with what fields begin with, what links copy,
    /// and their numbers. `rows`: how many the table has.
    pub(super) fn rows_of(
        &self,
        def: &TableDef,
        rows: usize,
        count: usize,
        mut columns: Vec<(FieldId, Vec<Value>)>,
        numbers: &mut Numbers,
    ) -> Vec<Op> {
        if count == 0 {
            return Vec::new();
        }
        let mut counts = Vec::new();
        for field in &def.fields {
            if columns.iter().any(|(f, _)| *f == field.id) {
                continue;
            }
            let same = |value: Value| vec![value; count];
            let copied = field.copies.and_then(|c| Some((c, &columns.iter().find(|(f, _)| *f == c.link)?.1)));
            let values = match (&field.kind, &field.preset, copied) {
                (Kind::Numbering { parts }, _, _) => {
                    let mut last = None;
                    let mut first = None;
                    let texts = (0..count).map(|_| {
                        let (period, before, after) = numbers.next(self.ds, field.id, parts, self.clock);
                        first.get_or_insert(before);
                        last = Some((period, after));
                        Value::text(&number_text(parts, after, self.clock))
                    });
                    let texts = texts.collect();
                    if let (Some((period, after)), Some(before)) = (last, first) {
                        counts.push(Op::Count { field: field.id, period, before, after });
                    }
                    texts
                }
                (_, _, Some((copies, links))) => links.iter().map(|value| self.copy_of(def, copies, value)).collect(),
                (_, Some(Preset::Value(value)), _) => same(value.clone()),
                (Kind::DateTime, Some(Preset::Now), _) => same(Value::Instant(self.clock.now)),
                (_, Some(Preset::Now), _) => same(Value::Date(self.clock.today())),
                (_, None, None) => continue,
            };
            columns.push((field.id, values));
        }
        let (fields, columns) = columns.into_iter().unzip();
        let count = u32::try_from(count).unwrap_or(u32::MAX);
        counts.push(Op::Rows(Rows { table: def.id, first: RecordId::at_row(rows), count, fields, columns, stamps: Vec::new() }));
        counts
    }

    pub(super) fn copy_of(&self, def: &TableDef, copies: crate::schema::Copies, link: &Value) -> Value {
        let to = def.field(copies.link).and_then(|f| if let Kind::Link(link) = f.kind { Some(link.to) } else { None });
        let (Some(to), Value::Links(targets)) = (to, link) else { return Value::Empty };
        let Some(target) = targets.first() else { return Value::Empty };
        let value = self.lens.whole().reader(to, copies.field).cell(target.row()).to_value().tidy();
        if matches!(value, Value::Error(_)) { Value::Empty } else { value }
    }
}
