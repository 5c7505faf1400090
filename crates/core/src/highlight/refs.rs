//! What a highlight names.

use super::Highlight;
use crate::{
    condition::{Condition, condition_refs},
    names::{Hold, Names, See, field},
};

impl Names for Highlight {
    fn each(&mut self, see: &mut See<'_>) {
        let before = self.condition.tests().len();
        condition_refs(&mut self.condition, Hold::Shows("looks at it"), see);
        // What tested something that is gone touches nothing from then on: never more than was meant.
        if self.condition.tests().len() < before {
            self.condition = Condition::never();
        }
        let shows = Hold::Shows("changes how it looks");
        self.touches.retain_mut(|touch| {
            let whole = touch.fields.is_empty();
            touch.fields.retain_mut(|id| field(id, shows, see));
            whole || !touch.fields.is_empty()
        });
    }
}
