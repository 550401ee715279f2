"""The addresses of previews, impact and revisions, below `/api/`."""

from django.urls import path

from . import preview_views, views

urlpatterns = [
    path("sites/<slug:site>/preview", preview_views.PreviewView.as_view()),
    path("sites/<slug:site>/dressed", preview_views.DressedView.as_view()),
    path("sites/<slug:site>/impact", views.ImpactView.as_view()),
    path("sites/<slug:site>/intakes/<int:number>/look", views.WeighedIntakeView.as_view()),
    path("sites/<slug:site>/weighed-edit", views.WeighedEditView.as_view()),
    path("sites/<slug:site>/back-to-live", views.BackToLiveView.as_view()),
    path("sites/<slug:site>/plans", views.PlansView.as_view()),
    path("sites/<slug:site>/plans/<int:number>", views.PlanView.as_view()),
    path("sites/<slug:site>/revisions", views.RevisionsView.as_view()),
    path("sites/<slug:site>/revisions/<int:number>", views.RevisionView.as_view()),
    path("sites/<slug:site>/revisions/<int:number>/against/<int:other>", views.CompareView.as_view()),
    path("sites/<slug:site>/revisions/<int:number>/publish", views.AgainView.as_view()),
    path("sites/<slug:site>/revisions/<int:number>/bring-back", views.BringBackView.as_view()),
]
