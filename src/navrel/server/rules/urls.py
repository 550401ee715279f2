"""The addresses of rules and pins, below `/api/sites/SITE/`."""

from django.urls import path

from . import editing, views

urlpatterns = [
    path("sites/<slug:site>/rules", views.RulesView.as_view()),
    path("sites/<slug:site>/rules/several", views.SeveralRulesView.as_view()),
    path("sites/<slug:site>/rules/<int:number>", views.RuleView.as_view()),
    path("sites/<slug:site>/rules/<int:number>/copy", views.CopyRuleView.as_view()),
    path("sites/<slug:site>/rules/<int:number>/pages", views.RulePagesView.as_view()),
    path("sites/<slug:site>/rules/<int:number>/position", views.MoveRuleView.as_view()),
    path("sites/<slug:site>/pieces/<slug:piece>/replace", views.ReplacePieceView.as_view()),
    path("sites/<slug:site>/pieces/<slug:piece>/vary", views.VaryPieceView.as_view()),
    path("sites/<slug:site>/pins", views.PinsView.as_view()),
    path("sites/<slug:site>/reaching", views.ReachingView.as_view()),
    path("sites/<slug:site>/judged", editing.JudgeView.as_view()),
    path("sites/<slug:site>/trial", editing.TrialView.as_view()),
    path("sites/<slug:site>/reach", editing.ReachView.as_view()),
]
