//! The tracker itself and its tables, as parts that are changed.

use super::{structure::check_table, zone};
use crate::{
    access::{Asker, Lens},
    checks::check_name,
    dataset::Dataset,
    fault::{Checked, Fault},
    rules::{Rules, Tells, builders_only, stewards_only},
    schema::{TableDef, TrackerDef},
};

impl Rules for TrackerDef {
    fn may_shape(&self, lens: &Lens<'_>, _asker: Asker) -> Result<(), Fault> {
        stewards_only(lens)
    }

    fn fits(&self, _before: Option<&Self>, _ds: &Dataset) -> Checked<()> {
        check_name(&self.name)?;
        zone(&self.zone)?;
        Ok(())
    }

    fn tells(&self, _before: &Lens<'_>, _after: &Lens<'_>) -> Tells {
        Tells::structure_if(true)
    }
}

impl Rules for TableDef {
    fn may_shape(&self, lens: &Lens<'_>, _asker: Asker) -> Result<(), Fault> {
        builders_only(lens, "this")
    }

    fn fits(&self, before: Option<&Self>, ds: &Dataset) -> Checked<()> {
        Ok(check_table(ds, self, before)?)
    }

    fn tells(&self, before: &Lens<'_>, after: &Lens<'_>) -> Tells {
        let mine = |lens: &Lens<'_>| lens.dataset().table(self.id).map(|table| table.def.mine);
        let tells = Tells::structure_if(before.opens(self.id) || after.opens(self.id));
        // What is somebody's own, and who *my record* is, may be something else now.
        Tells { access: mine(before) != mine(after), ..tells }
    }

    fn packed(mut self, _whole: bool) -> Option<Self> {
        self.binned.clear();
        self.gone.is_none().then_some(self)
    }
}
