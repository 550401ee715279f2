"""The addresses of previews, impact and revisions, below `/api/`."""

from django.urls import path

from . import views

urlpatterns = [
    path("sites/<slug:site>/preview", views.PreviewView.as_view()),
    path("sites/<slug:site>/dressed", views.DressedView.as_view()),
    path("sites/<slug:site>/impact", views.ImpactView.as_view()),
    path("sites/<slug:site>/back-to-live", views.BackToLiveView.as_view()),
    path("sites/<slug:site>/plans", views.PlansView.as_view()),
    path("sites/<slug:site>/plans/<int:number>", views.PlanView.as_view()),
    path("sites/<slug:site>/revisions", views.RevisionsView.as_view()),
    path("sites/<slug:site>/revisions/<int:number>", views.RevisionView.as_view()),
    path("sites/<slug:site>/revisions/<int:number>/bring-back", views.BringBackView.as_view()),
]
